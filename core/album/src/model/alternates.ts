import { samplesToTicks, samples, ticks, type Ticks } from '@oiseau/audio/time';
import { type Alternate, MAIN } from './alternate-schema.js';
import { masterTicks, type MasterFacts, type Sequence } from './sequence.js';
import type { Song } from './song.js';

/** A song’s recording of a name; undefined where it has none. */
export const alternateOf = ({ alternates }: Pick<Song, 'alternates'>, name: string): Alternate | undefined =>
  Object.hasOwn(alternates, name) ? alternates[name] : undefined;

interface HasSongs {
  readonly songs: readonly Song[];
}

/** The names of all alternates in an album, in the order of the songs that have them. */
export const alternateNames = ({ songs }: HasSongs): string[] => [
  ...new Set(songs.flatMap(({ alternates }) => Object.keys(alternates))),
];

/** Every master that a song may be heard with. */
export const mastersOfSong = ({ region, alternates }: Pick<Song, 'region' | 'alternates'>): string[] => [
  region.master,
  ...Object.values(alternates).map(({ master }) => master),
];

/** Every master that an album plays, in any of its recordings, each once. */
export const mastersPlayed = ({ songs }: HasSongs): string[] => [...new Set(songs.flatMap(mastersOfSong))];

/**
 * What is heard of a part in one of its recordings: the alternate wherever a song has it, and the master elsewhere (docs/rules.md 13).
 * @param name of the alternate, or `MAIN`
 */
export function sequenceOfAlternate(
  { sequence, songs }: { readonly sequence: Sequence } & HasSongs,
  name: string,
): Sequence {
  if (name === MAIN) return sequence;
  const recordings = new Map(songs.map((song) => [song.id, alternateOf(song, name)]));
  return {
    ...sequence,
    songs: sequence.songs.map((song) => {
      const alternate = recordings.get(song.id);
      if (!alternate) return song;
      const { master, shift } = alternate;
      return { ...song, region: { ...song.region, master, ...(shift === 0 ? {} : { shift }) } };
    }),
  };
}

/** Of what lining up takes from the end of a recording, this much may be silence. */
const LINED_UP_S = 0.05;

/**
 * How much of a region an alternate lacks at its end, less than a sample of its own being nothing: masters of two rates never end alike.
 * What it was moved by to line up it may lack, up to 50 ms.
 * @param out where the region ends in the song's master
 */
export function lackingAtEnd(out: Ticks, shift: Ticks, master: MasterFacts): Ticks {
  const lacking = out + shift - masterTicks(master);
  const allowed = Math.min(
    Math.abs(shift),
    samplesToTicks(samples(Math.round(LINED_UP_S * master.rate)), master.rate),
  );
  const sample = samplesToTicks(samples(1), master.rate);
  return ticks(Math.max(0, lacking < sample + allowed ? 0 : lacking));
}

import { samplesToTicks, samples, ticks, type Ticks } from '../time/ticks.js';
import { atMost } from '../schema/at-most.js';
import * as z from '../schema/z.js';
import { regionSchema, ticksSchema } from './region.js';
import { masterTicks, type MasterFacts, type Sequence } from './sequence.js';
import type { Song } from './song.js';

/** What the masters themselves are called where recordings are chosen (docs/album-file.md 2.4). */
export const MAIN = 'main';

/** A song can have this many other recordings. */
const MOST_ALTERNATES = 30;

/** The name of a kind of recording, which is one over the whole album: `instrumental`, `a cappella`. */
export const alternateName = z
  .string()
  .min(1)
  .max(40)
  .refine((name) => name === name.trim() && !/\p{Cc}/u.test(name), {
    error: (issue) => `“${String(issue.input)}” has blanks at an end, or signs that can’t be seen.`,
  })
  .refine((name) => name !== '__proto__', { error: '“__proto__” can’t be a name.' })
  .refine((name) => name.toLowerCase() !== MAIN, { error: '“main” is the master itself.' });

/** Which recordings a deliverable is made of. */
export const chosenAlternate = z.union([z.literal(MAIN), alternateName]);

/** By name, each under a name of its own. @param alternate what is kept of one */
export const alternatesOf = <T extends z.ZodType>(alternate: T) =>
  atMost(
    MOST_ALTERNATES,
    'alternates',
    z.record(alternateName, alternate).superRefine((all, context) => {
      const taken = new Set<string>();
      for (const name of Object.keys(all)) {
        const folded = name.toLowerCase();
        if (taken.has(folded))
          context.addIssue({ code: 'custom', path: [name], message: `Two alternates are named “${name}”.` });
        taken.add(folded);
      }
    }),
  );

/** Another recording of a song. It shares region, fades, gain, sound, marks and place with the master. */
export const alternateSchema = z.strictObject({
  master: regionSchema.shape.master,
  /** How much later it has what the master has at the same moment: what it is moved by to line up. */
  shift: ticksSchema.default(ticks(0)),
});
export type Alternate = z.output<typeof alternateSchema>;

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

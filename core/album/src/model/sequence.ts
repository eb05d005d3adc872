import { samplesToTicks, samples, ticks, type Ticks } from '@oiseau/audio/time';
import type { AlbumTreatment } from '@oiseau/audio/stages';
import type { PartSongs } from './parts.js';
import type { PlayedRegion, Region } from './region.js';
import type { Song, SongMarks } from './song.js';

/** What the album needs to know of a master to place it. */
export interface MasterFacts {
  readonly rate: number;
  /** Samples of one channel. */
  readonly length: number;
}
export type MasterFactsByKey = ReadonlyMap<string, MasterFacts>;

/** One song as a sequence needs it: what sounds of it, and what is silent. */
export interface SequencedSong {
  readonly id: string;
  readonly numbered: boolean;
  readonly region: PlayedRegion;
  readonly marks: SongMarks;
}

/** What one part plays, every out point resolved. */
export interface Sequence {
  /** In the order in which they are heard. */
  readonly songs: readonly SequencedSong[];
  /** How long before its audio a track's start mark stands. */
  readonly markLead: Ticks;
  /** Silence after the last audio. */
  readonly endPause: Ticks;
  /** What is done to all of it together. */
  readonly sound: AlbumTreatment;
}

export function masterTicks(master: MasterFacts): Ticks {
  return samplesToTicks(samples(master.length), master.rate);
}

/** The end of a region in its master; that of an unknown master without an out point is its start. */
export function outOf(region: Region, masters: MasterFactsByKey): Ticks {
  const master = masters.get(region.master);
  return region.out ?? (master ? masterTicks(master) : region.in);
}

/**
 * What a part plays. A side has neither a first pause nor one at its end: its file begins with its audio (docs/rules.md 11.2).
 * @throws RangeError when a master is not among `masters`
 */
export function sequenceOf(
  { songs, kind }: Pick<PartSongs, 'songs' | 'kind'>,
  album: Pick<Sequence, 'markLead' | 'endPause' | 'sound'>,
  masters: MasterFactsByKey,
): Sequence {
  const played = (song: Song, place: number): SequencedSong => {
    if (!masters.has(song.region.master)) throw new RangeError(`The master of “${song.title}” is missing.`);
    const region = { ...song.region, out: outOf(song.region, masters) };
    const opensSide = kind === 'side' && place === 0;
    return {
      id: song.id,
      numbered: song.numbered,
      region: opensSide ? { ...region, gapBefore: ticks(0) } : region,
      marks: song.marks,
    };
  };
  return {
    songs: songs.map(played),
    markLead: album.markLead,
    endPause: kind === 'side' ? ticks(0) : album.endPause,
    sound: album.sound,
  };
}

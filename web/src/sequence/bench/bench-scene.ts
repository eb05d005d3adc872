import { dbToLinear } from '@oiseau/audio/dsp';
import { samples, samplesToTicks, ticks, type Interval, type Ticks } from '@oiseau/audio/time';
import type { Song } from '@oiseau/album/model';
import type { MasterRecord } from '@oiseau/api';

/** What is known of a master's samples around the transition, in its own times. */
export interface VoiceSound {
  /** Highest magnitude between two times, linear. */
  readonly level: (from: Ticks, to: Ticks) => number;
  /** The nearest zero crossing, while samples are in sight; null where there is none or nothing is known. */
  readonly zeroNear: (time: Ticks) => Ticks | null;
}

/** Where a song's sound stands over a level: from the first moment to the last. */
export interface VoiceEdge {
  readonly levelDb: number;
  readonly start: Ticks;
  readonly end: Ticks;
}

/** A song on the Bench: where it lies on the disc, and what its master holds around that. */
export interface BenchVoice extends VoiceSound, Interval<Ticks> {
  readonly song: Song;
  readonly out: Ticks;
  readonly masterLength: Ticks;
  readonly gain: number;
  /** In the master's own times. */
  readonly edges: readonly VoiceEdge[];
}

/** One transition, laid open: the song that ends (none before track 1) and the one that begins. */
export interface BenchScene {
  readonly before: BenchVoice | null;
  readonly after: BenchVoice;
  /** Start mark, pause and index points of the song that begins, absolute times. */
  readonly startMark: Ticks;
  readonly pause: Ticks | null;
  readonly indexes: readonly Ticks[];
}

/** Where a voice's master would start on the disc. */
export const originOf = ({ start, song }: BenchVoice): Ticks => ticks(start - song.region.in);

export function voiceOf(
  song: Song | undefined,
  placed: Interval<Ticks> | undefined,
  master: Pick<MasterRecord, 'info' | 'measurement'> | undefined,
  sound: VoiceSound,
): BenchVoice | null {
  if (!song || !placed || !master) return null;
  const at = (sample: number): Ticks => samplesToTicks(samples(sample), master.info.rate);
  const length = at(master.info.length);
  return {
    song,
    ...placed,
    out: song.region.out ?? length,
    masterLength: length,
    gain: dbToLinear(song.region.gainDb),
    edges: (master.measurement?.edges ?? []).flatMap(({ levelDb, start, end }) =>
      start === null || end === null ? [] : [{ levelDb, start: at(start), end: at(end) }],
    ),
    ...sound,
  };
}

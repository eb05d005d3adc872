import { dbToLinear, masterTicks, type Layout, type Ticks, type Track } from '@oiseau/core';
import type { MasterRecord } from '../../api/types.js';

/** Highest magnitude of a master between two times of its own, linear. */
export type LevelOf = (from: Ticks, to: Ticks) => number;

/** A song on the Bench: where it lies on the disc, and what its master holds around that. */
export interface BenchVoice {
  readonly track: Track;
  readonly audioStart: Ticks;
  readonly audioEnd: Ticks;
  readonly out: Ticks;
  readonly masterLength: Ticks;
  readonly gain: number;
  readonly level: LevelOf;
}

/** One transition, laid open: the song that ends (none before track 1) and the one that begins. */
export interface BenchScene {
  readonly before: BenchVoice | null;
  readonly after: BenchVoice;
  /** Start mark and pause of the song that begins, absolute times. */
  readonly startMark: Ticks;
  readonly pause: Ticks | null;
}

export function voiceOf(
  track: Track | undefined,
  placed: Layout['tracks'][number] | undefined,
  master: MasterRecord | undefined,
  level: LevelOf,
): BenchVoice | null {
  if (!track || !placed || !master) return null;
  return {
    track,
    audioStart: placed.audioStart,
    audioEnd: placed.audioEnd,
    out: track.out ?? masterTicks(master.info),
    masterLength: masterTicks(master.info),
    gain: dbToLinear(track.gainDb),
    level,
  };
}

import { soundWithin } from '../measure/sounding.js';
import type { Silhouette } from '../measure/silhouette.js';
import { framesToTicks } from '../time/frames.js';
import { ticks, ticksToSeconds, type Ticks } from '../time/ticks.js';

/** How heads and tails are trimmed to the sound. */
export interface TrimSettings {
  /** The sound starts where it first reaches this level and has died away where it last does, dBFS. */
  readonly thresholdDb: number;
  /** What is left before the sound and behind it. */
  readonly headMargin: Ticks;
  readonly tailMargin: Ticks;
}

/** A stretch `[in, out)` of a master. */
export interface Region {
  readonly in: Ticks;
  readonly out: Ticks;
}

/**
 * Where a track might start and end: its sound within `[from.in, from.out)` with a margin at each side, but never more than that
 * stretch; null where nothing in it reaches the threshold. As fine as the outline, 1/75 s.
 */
export function suggestTrim(outline: Silhouette, from: Region, settings: TrimSettings): Region | null {
  const frame = (time: Ticks): number => ticksToSeconds(time) * 75;
  const sound = soundWithin(outline, frame(from.in), frame(from.out), settings.thresholdDb);
  if (!sound) return null;
  return {
    in: ticks(Math.max(from.in, framesToTicks(sound.start) - settings.headMargin)),
    out: ticks(Math.min(from.out, framesToTicks(sound.end) + settings.tailMargin)),
  };
}

import { soundWithin, type Silhouette } from '@oiseau/audio/measure';
import {
  FRAMES_PER_SECOND,
  framesToTicks,
  type Interval,
  ticks,
  ticksToSeconds,
  type Ticks,
} from '@oiseau/audio/time';

/** How heads and tails are trimmed to the sound. */
export interface TrimSettings {
  /** The sound starts where it first reaches this level and has died away where it last does, dBFS. */
  readonly thresholdDb: number;
  /** What is left before the sound and behind it. */
  readonly headMargin: Ticks;
  readonly tailMargin: Ticks;
}

/**
 * Where a track might start and end: its sound within a stretch of its master with a margin at each side, but never more than that
 * stretch; null where nothing in it reaches the threshold. As fine as the outline, 1/75 s.
 */
export function suggestTrim(
  outline: Silhouette,
  from: Interval<Ticks>,
  settings: TrimSettings,
): Interval<Ticks> | null {
  const frame = (time: Ticks): number => ticksToSeconds(time) * FRAMES_PER_SECOND;
  const sound = soundWithin(outline, frame(from.start), frame(from.end), settings.thresholdDb);
  if (!sound) return null;
  return {
    start: ticks(Math.max(from.start, framesToTicks(sound.start) - settings.headMargin)),
    end: ticks(Math.min(from.end, framesToTicks(sound.end) + settings.tailMargin)),
  };
}

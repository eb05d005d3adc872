import { samplesToTicks, samples, ticksToSeconds, type Ticks, TICKS_PER_SECOND } from '@oiseau/audio/time';
import { zeroCrossingIn } from '@oiseau/audio/dsp';
import type { Silhouette } from '@oiseau/audio/measure';
import { useMemo } from 'react';
import type { MasterRecord } from '@oiseau/api';
import { useMasterStretch } from '../../masters/master-pcm.js';
import type { VoiceSound } from './bench-scene.js';

/** Zero crossings are looked for so far around a place; seconds. */
const ZERO_REACH_S = 0.02;

/** From this span down the outline (1/75 s) is too coarse, and the samples themselves are read; seconds. */
const CLOSE = 8;

/**
 * What the Bench shows of a master: its outline, or, when little is in sight, its samples.
 * @param from first time of the master that is in sight, and how much of it is, in seconds
 */
export function useLevel(
  master: MasterRecord,
  outline: Silhouette | undefined,
  from: Ticks,
  span: number,
): VoiceSound {
  const { rate, length } = master.info;
  const close = span <= CLOSE;
  // Read in steps of half of what is in sight, so that a drag does not ask for every pixel anew.
  const step = Math.max(64, Math.round((span * rate) / 2));
  const first = Math.max(0, Math.min(length, Math.floor((ticksToSeconds(from) * rate) / step) * step));
  const count = close ? Math.min(length - first, 4 * step) : 0;
  const stretch = useMasterStretch(master, first, Math.max(1, count));
  return useMemo(() => {
    if (!close || !stretch) {
      return {
        level: (start, end) =>
          outline ? outline.over(ticksToSeconds(start) * 75, ticksToSeconds(end) * 75).peak : 0,
        zeroNear: () => null,
      };
    }
    const { left, right, from: at } = stretch;
    const origin = samplesToTicks(samples(at), rate);
    const perTick = rate / TICKS_PER_SECOND;
    const level = (start: Ticks, end: Ticks): number => {
      const i = Math.floor((start - origin) * perTick);
      const j = Math.max(i + 1, Math.floor((end - origin) * perTick));
      let peak = 0;
      for (let n = Math.max(0, i); n < Math.min(left.length, j); n++)
        peak = Math.max(peak, Math.abs(left[n] as number), Math.abs(right[n] as number));
      return peak;
    };
    const zeroNear = (time: Ticks): Ticks | null => {
      const sample = Math.round((time - origin) * perTick) + at;
      if (sample <= at || sample >= at + left.length) return null;
      const found = zeroCrossingIn(stretch, at, sample, Math.round(ZERO_REACH_S * rate));
      return samplesToTicks(samples(found), rate);
    };
    return { level, zeroNear };
  }, [close, stretch, outline, rate]);
}

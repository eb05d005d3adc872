import { DB_OF_LOG2, gainOfDb, log2 } from '../dsp/exponent.js';
import { kernels, type Kernels } from '../kernels/kernels.js';
import { CHANNELS, type Block } from '../pcm/block.js';
import { BENDING, PEAK_TABLE, raiseToPeaksReference, SIDE, SLOPE } from './peaks.js';

/** Samples before and after the ones that are told that say what those need: a point is made of 16 on each side, and each sample hears of the points up to 16 from it. */
export const NEEDS_BEFORE = 2 * SIDE - 1;
export const NEEDS_AFTER = 2 * SIDE + 4;
/** Reductions are told in whole numbers of this, dB: their sums are exact, so that a sum that goes on is the same wherever it began. */
const QUANTUM_DB = 2 ** -20;

/** A copy of values in the kernels' memory. */
function laid(machine: Kernels, values: Float64Array): number {
  const at = machine.take(8 * values.length);
  machine.doubles(at, values.length).set(values);
  return at;
}

/**
 * What each sample must be reduced by, by itself, dB, 0 or more.
 * @param audio with NEEDS_BEFORE samples before the first and NEEDS_AFTER after the last
 * @param most the ceiling, linear; `aim`: what is aimed at under it
 * @param into memory that they may lie in, `count` of them
 */
export function needsIn(
  audio: Block,
  count: number,
  most: number,
  aim: number,
  into: Float64Array = new Float64Array(count),
): Float64Array {
  if (!kernels) return needsReference(audio, count, most, aim);
  kernels.begin();
  const table = kernels.table(PEAK_TABLE);
  const [left, right] = [laid(kernels, audio.left), laid(kernels, audio.right)] as const;
  const peaks = kernels.take(8 * (count + 60));
  const narrowed = kernels.take(8 * 4 * SIDE);
  kernels.call.needs(left, right, count, narrowed, table, SLOPE, BENDING, most, aim, peaks);
  into.set(kernels.doubles(peaks, count));
  return into;
}

/** The reference in plain TypeScript: the same sums in the same order as the kernel. */
export function needsReference(audio: Block, count: number, most: number, aim: number): Float64Array {
  const peaks = new Float64Array(4 * Math.ceil((count + 2 * SIDE - 1) / 4));
  for (const channel of CHANNELS) raiseToPeaksReference(audio[channel], peaks);
  return slidingMaximum(peaks, 2 * SIDE, count).map((peak) =>
    peak > most ? 2 * DB_OF_LOG2 * log2(peak / aim) : 0,
  );
}

/** Widths of the three means, one after the other, through which a reduction falls and rises: together as wide as the limiter looks ahead. */
const widthsOf = (ahead: number): [number, number, number] => [
  Math.floor((ahead + 3) / 3),
  Math.floor((ahead + 4) / 3),
  Math.floor((ahead + 5) / 3),
];

/**
 * Smooth reductions, dB: the highest of the next `ahead` ones, then the mean of the last `ahead` of those, at a peak all of which hold it. A mean
 * of means of means: a gain that falls through it has no corner.
 * @param held of `count` samples, with `ahead` before and after them
 * @returns null where nothing is held
 */
export function smoothed(held: Float64Array, count: number, ahead: number): Float64Array | null {
  if (!kernels) return smoothedReference(held, count, ahead);
  kernels.begin();
  const at = laid(kernels, held);
  // Two are worked on at once: beyond the last one there is nothing.
  kernels.doubles(at, held.length + 1)[held.length] = 0;
  const [back, highest] = [kernels.take(8 * held.length), kernels.take(8 * held.length)] as const;
  if (kernels.call.smooth(at, count, ahead, ...widthsOf(ahead), back, highest) === 0) return null;
  return kernels.doubles(highest, count).slice();
}

/** The reference in plain TypeScript: the same sums in the same order as the kernel. */
export function smoothedReference(held: Float64Array, count: number, ahead: number): Float64Array | null {
  if (held.every((reduction) => reduction === 0)) return null;
  const whole = held.map((reduction) => Math.ceil(reduction / QUANTUM_DB));
  const widths = widthsOf(ahead);
  const sums = widths.reduce(slidingSum, slidingMaximum(whole, ahead + 1, count + ahead));
  const share = widths.reduce((all, width) => all * width, 1) / QUANTUM_DB;
  return sums.map((sum) => sum / share);
}

/** Takes reductions in dB away from both channels, in place; where anything is taken no sample comes over the ceiling, linear. */
export function takeAway(block: Block, reductions: Float64Array, ceiling: number): void {
  if (!kernels) {
    takeAwayReference(block, reductions, ceiling);
    return;
  }
  kernels.begin();
  const audio = kernels.place(block);
  kernels.call.takeAway(audio.left, audio.right, audio.length, laid(kernels, reductions), ceiling);
  block.left.set(kernels.doubles(audio.left, audio.length));
  block.right.set(kernels.doubles(audio.right, audio.length));
}

/** The reference in plain TypeScript. */
export function takeAwayReference(block: Block, reductions: Float64Array, ceiling: number): void {
  for (const channel of CHANNELS) {
    const audio = block[channel];
    reductions.forEach((reduction, i) => {
      if (reduction === 0) return;
      // The last bit of a product may lie over the ceiling.
      audio[i] = Math.max(-ceiling, Math.min(ceiling, (audio[i] as number) * gainOfDb(-reduction)));
    });
  }
}

/** Sums of `width` whole numbers from each place on, as many as there are such places. */
function slidingSum(values: Float64Array, width: number): Float64Array {
  let sum = values.subarray(0, width - 1).reduce((all, value) => all + value, 0);
  return Float64Array.from({ length: values.length - width + 1 }, (_, i) => {
    const whole = sum + (values[i + width - 1] as number);
    sum = whole - (values[i] as number);
    return whole;
  });
}

/** The highest of `width` values from each of `count` places on. */
const slidingMaximum = (values: Float64Array, width: number, count: number): Float64Array =>
  Float64Array.from({ length: count }, (_, i) => Math.max(...values.subarray(i, i + width)));

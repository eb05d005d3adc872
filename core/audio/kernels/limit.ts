// AssemblyScript: see core/audio/kernels/README.md.
import { exp2, log2 } from './compress';
import { peaksBetween } from './peaks';

/** The highest of `width` values from each place on, for `count` places; as in core/audio/src/stages/sliding.ts. @param back room for all values */
function slidingMaximum(values: usize, count: i32, width: i32, back: usize, into: usize): void {
  const length = count + width - 1;
  for (let from = 0; from < length; from += width) {
    const end = min(length, from + width);
    let most: f64 = 0;
    for (let i = end - 1; i >= from; i--) {
      const at = (<usize>i) << 3;
      most = Math.max(most, f64.load(values + at));
      f64.store(back + at, most);
    }
  }
  let forth: f64 = 0;
  let since = width - 1;
  for (let place = 0; place < count; place++) {
    const value = f64.load(values + ((<usize>(place + width - 1)) << 3));
    forth = since == 0 ? value : Math.max(forth, value);
    since = since + 1 == width ? 0 : since + 1;
    const at = (<usize>place) << 3;
    f64.store(into + at, Math.max(f64.load(back + at), forth));
  }
}

/** Sums of `width` whole numbers from each place on, in place. @param length of what is summed */
function slidingSum(values: usize, length: i32, width: i32): void {
  let sum: f64 = 0;
  for (let i = 0; i < width - 1; i++) sum += f64.load(values + ((<usize>i) << 3));
  const ahead = (<usize>(width - 1)) << 3;
  for (let i = 0; i < length - width + 1; i++) {
    const at = values + ((<usize>i) << 3);
    sum += f64.load(at + ahead);
    const last = f64.load(at);
    f64.store(at, sum);
    sum -= last;
  }
}

/**
 * What each sample must be reduced by, dB, as in core/audio/src/stages/limiter.ts.
 * @param left, right audio from 31 samples before the first on, 35 beyond the last
 * @param peaks room for `count` + 60 doubles; what is told stands there in the end
 * @param narrowed, table, slope, bending as `peaksBetween` has them
 */
export function needs(
  left: usize,
  right: usize,
  count: i32,
  narrowed: usize,
  table: usize,
  slope: f64,
  bending: f64,
  most: f64,
  aim: f64,
  peaks: usize,
): void {
  const seen = (count + 31 + 3) & ~3;
  memory.fill(peaks, 0, (<usize>(count + 60)) << 3);
  peaksBetween(left + 120, seen, narrowed, table, slope, bending, most, peaks);
  peaksBetween(right + 120, seen, narrowed, table, slope, bending, most, peaks);
  // The highest of 2, 4, 8, 16, 32 from each place on.
  for (let step = 1; step <= 16; step <<= 1) {
    const ahead = (<usize>step) << 3;
    for (let at = peaks, end = peaks + ((<usize>(count + 31)) << 3); at < end; at += 16)
      v128.store(at, f64x2.pmax(v128.load(at), v128.load(at + ahead)));
  }
  const bar = f64x2.splat(most);
  for (let i = 0; i < count; i += 2) {
    const at = peaks + ((<usize>i) << 3);
    const peak = v128.load(at);
    const over = f64x2.gt(peak, bar);
    if (!v128.any_true(over)) {
      v128.store(at, f64x2.splat(0));
      continue;
    }
    const need = f64x2.mul(
      f64x2.splat(6.020599913279624),
      log2(f64x2.div(f64x2.pmax(peak, bar), f64x2.splat(aim))),
    );
    v128.store(at, v128.and(over, need));
  }
}

/**
 * Smooth reductions of what is held, dB, as in core/audio/src/stages/limiter.ts.
 * @param held `count` + 2 · `ahead` of them, from `ahead` samples before the first on; they are used up
 * @param ahead samples of looking ahead
 * @param first, second, third widths of the means, `ahead` + 3 together
 * @param back, highest room for as many doubles as `held`
 * @returns whether anything is held; of nothing nothing is made
 */
export function smooth(
  held: usize,
  count: i32,
  ahead: i32,
  first: i32,
  second: i32,
  third: i32,
  back: usize,
  highest: usize,
): i32 {
  const all = count + 2 * ahead;
  let any = f64x2.splat(0);
  for (let i = 0; i < all; i += 2) {
    const at = held + ((<usize>i) << 3);
    const whole = f64x2.ceil(f64x2.mul(v128.load(at), f64x2.splat(1048576)));
    any = f64x2.pmax(any, whole);
    v128.store(at, whole);
  }
  if (!v128.any_true(any)) return 0;
  const length = count + ahead;
  slidingMaximum(held, length, ahead + 1, back, highest);
  slidingSum(highest, length, first);
  slidingSum(highest, length - first + 1, second);
  slidingSum(highest, length - first - second + 2, third);
  const share = f64x2.splat(<f64>first * <f64>second * <f64>third * 1048576);
  for (let i = 0; i < count; i += 2) {
    const at = highest + ((<usize>i) << 3);
    v128.store(at, f64x2.div(v128.load(at), share));
  }
  return 1;
}

/** Takes reductions in dB away from both channels, in place; no sample comes over the ceiling where anything is taken. */
export function takeAway(left: usize, right: usize, count: i32, reductions: usize, ceiling: f64): void {
  const top = f64x2.splat(ceiling);
  const bottom = f64x2.splat(-ceiling);
  const zero = f64x2.splat(0);
  for (let i = 0; i < count; i += 2) {
    const at = (<usize>i) << 3;
    const reduction = v128.load(reductions + at);
    const some = f64x2.gt(reduction, zero);
    if (!v128.any_true(some)) continue;
    const gain = exp2(f64x2.mul(f64x2.neg(reduction), f64x2.splat(0.16609640474436813)));
    const l = v128.load(left + at);
    const r = v128.load(right + at);
    const limitedLeft = f64x2.pmax(bottom, f64x2.pmin(top, f64x2.mul(l, gain)));
    const limitedRight = f64x2.pmax(bottom, f64x2.pmin(top, f64x2.mul(r, gain)));
    v128.store(left + at, v128.bitselect(limitedLeft, l, some));
    v128.store(right + at, v128.bitselect(limitedRight, r, some));
  }
}

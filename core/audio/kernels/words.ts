// AssemblyScript: see core/audio/kernels/README.md.
import { FLOAT32, INT16, INT24, INT32, stepsOf, storeWords, words } from './packing';

/** Interleaved little-endian stereo words to a block. Reads and writes a few bytes beyond the end: there is room for them. */
export function decode(bytes: usize, count: i32, format: i32, left: usize, right: usize): void {
  if (format == INT16) decode16(bytes, count, left, right);
  else if (format == INT24) decode24(bytes, count, left, right);
  else
    for (let i = 0; i < count; i++) {
      const at = (<usize>i) << 3;
      if (format == INT32) {
        f64.store(left + at, <f64>i32.load(bytes + at) / 2147483648.0);
        f64.store(right + at, <f64>i32.load(bytes + at, 4) / 2147483648.0);
      } else if (format == FLOAT32) {
        f64.store(left + at, <f64>f32.load(bytes + at));
        f64.store(right + at, <f64>f32.load(bytes + at, 4));
      } else {
        f64.store(left + at, f64.load(bytes + (at << 1)));
        f64.store(right + at, f64.load(bytes + (at << 1), 8));
      }
    }
}

function decode16(bytes: usize, count: i32, left: usize, right: usize): void {
  // Words lie at the top of 32 bits, so that the sign comes out by itself.
  const step = f64x2.splat(1.0 / 2147483648.0);
  const end = bytes + ((<usize>count) << 2);
  for (; bytes < end; bytes += 16, left += 32, right += 32) {
    const words = v128.load(bytes);
    put(left, i32x4.shl(words, 16), step);
    put(right, v128.and(words, i32x4.splat(<i32>0xffff0000)), step);
  }
}

/** Four whole numbers times a step. */
function put(to: usize, words: v128, step: v128): void {
  v128.store(to, f64x2.mul(f64x2.convert_low_i32x4_s(words), step));
  v128.store(to, f64x2.mul(f64x2.convert_low_i32x4_s(v128.shuffle<i32>(words, words, 2, 3, 2, 3)), step), 16);
}

function decode24(bytes: usize, count: i32, left: usize, right: usize): void {
  const step = f64x2.splat(1.0 / 2147483648.0);
  const end = bytes + <usize>count * 6;
  // A lane of −1 is none: what it takes is 0.
  const places = i8x16(-1, 0, 1, 2, -1, 6, 7, 8, -1, 3, 4, 5, -1, 9, 10, 11);
  for (; bytes < end; bytes += 24, left += 32, right += 32) {
    const first = v128.swizzle(v128.load(bytes), places);
    const second = v128.swizzle(v128.load(bytes, 12), places);
    put(left, v128.shuffle<i32>(first, second, 0, 1, 4, 5), step);
    put(right, v128.shuffle<i32>(first, second, 2, 3, 6, 7), step);
  }
}

/** A block to interleaved little-endian stereo words, rounded to the nearest with halves up and limited to the range. */
export function encode(left: usize, right: usize, count: i32, format: i32, bytes: usize): void {
  if (format > INT32)
    for (let i = 0; i < count; i++) {
      const at = (<usize>i) << 3;
      if (format == FLOAT32) {
        f32.store(bytes + at, <f32>f64.load(left + at));
        f32.store(bytes + at, <f32>f64.load(right + at), 4);
      } else {
        f64.store(bytes + (at << 1), f64.load(left + at));
        f64.store(bytes + (at << 1), f64.load(right + at), 8);
      }
    }
  else {
    const scale = stepsOf(format);
    const steps = f64x2.splat(scale);
    const most = f64x2.splat(scale - 1);
    const least = f64x2.splat(-scale);
    const half = f64x2.splat(0.5);
    for (let i = 0; i < count; i += 4) {
      const l = left + ((<usize>i) << 3);
      const r = right + ((<usize>i) << 3);
      storeWords(
        words(
          f64x2.add(f64x2.mul(v128.load(l), steps), half),
          f64x2.add(f64x2.mul(v128.load(l, 16), steps), half),
          most,
          least,
        ),
        words(
          f64x2.add(f64x2.mul(v128.load(r), steps), half),
          f64x2.add(f64x2.mul(v128.load(r, 16), steps), half),
          most,
          least,
        ),
        i,
        format,
        bytes,
      );
    }
  }
}

/**
 * Lays one channel as stored against what it was made from, limited to what the words can hold. `extremes` holds the highest
 * magnitude stored and the largest difference up to now, and takes the new ones.
 */
export function compare(
  stored: usize,
  wanted: usize,
  count: i32,
  highest: f64,
  lowest: f64,
  extremes: usize,
): void {
  let peak = f64x2.splat(f64.load(extremes));
  let residual = f64x2.splat(f64.load(extremes, 8));
  let otherPeak = peak;
  let otherResidual = residual;
  const most = f64x2.splat(highest);
  const least = f64x2.splat(lowest);
  const end = stored + ((<usize>count) << 3);
  // Four at a time, two of which don't wait for the others.
  for (; stored + 32 <= end; stored += 32, wanted += 32) {
    const a = v128.load(stored);
    const b = v128.load(stored, 16);
    peak = f64x2.pmax(peak, f64x2.abs(a));
    otherPeak = f64x2.pmax(otherPeak, f64x2.abs(b));
    residual = f64x2.pmax(residual, difference(a, v128.load(wanted), most, least));
    otherResidual = f64x2.pmax(otherResidual, difference(b, v128.load(wanted, 16), most, least));
  }
  peak = f64x2.pmax(peak, otherPeak);
  residual = f64x2.pmax(residual, otherResidual);
  for (; stored < end; stored += 8, wanted += 8) {
    const word = v128.load64_splat(stored);
    peak = f64x2.pmax(peak, f64x2.abs(word));
    residual = f64x2.pmax(residual, difference(word, v128.load64_splat(wanted), most, least));
  }
  f64.store(extremes, Math.max(f64x2.extract_lane(peak, 0), f64x2.extract_lane(peak, 1)));
  f64.store(extremes, Math.max(f64x2.extract_lane(residual, 0), f64x2.extract_lane(residual, 1)), 8);
}

/** How far words lie from what was wanted, limited to what they can hold. */
function difference(words: v128, wanted: v128, most: v128, least: v128): v128 {
  return f64x2.abs(f64x2.sub(words, f64x2.pmax(f64x2.pmin(wanted, most), least)));
}

// AssemblyScript: see core/kernels/README.md.
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
  const step = f64x2.splat(1.0 / 32768.0);
  for (let i = 0; i < count; i += 4) {
    const words = v128.load(bytes + ((<usize>i) << 2));
    const parted = v128.shuffle<i16>(words, words, 0, 2, 4, 6, 1, 3, 5, 7);
    const l = i32x4.extend_low_i16x8_s(parted);
    const r = i32x4.extend_high_i16x8_s(parted);
    const to = (<usize>i) << 3;
    put(left + to, l, step);
    put(right + to, r, step);
  }
}

/** Four whole numbers times a step. */
function put(to: usize, words: v128, step: v128): void {
  v128.store(to, f64x2.mul(f64x2.convert_low_i32x4_s(words), step));
  v128.store(to, f64x2.mul(f64x2.convert_low_i32x4_s(v128.shuffle<i32>(words, words, 2, 3, 2, 3)), step), 16);
}

function decode24(bytes: usize, count: i32, left: usize, right: usize): void {
  // Words are put together at the top of 32 bits, so that the sign comes out by itself.
  const step = f64x2.splat(1.0 / 2147483648.0);
  const zero = i32x4.splat(0);
  for (let i = 0; i < count; i += 2) {
    const words = v128.load(bytes + <usize>i * 6);
    const parted = v128.shuffle<i8>(words, zero, 16, 0, 1, 2, 16, 6, 7, 8, 16, 3, 4, 5, 16, 9, 10, 11);
    const to = (<usize>i) << 3;
    v128.store(left + to, f64x2.mul(f64x2.convert_low_i32x4_s(parted), step));
    const r = v128.shuffle<i32>(parted, parted, 2, 3, 2, 3);
    v128.store(right + to, f64x2.mul(f64x2.convert_low_i32x4_s(r), step));
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
  const most = f64x2.splat(highest);
  const least = f64x2.splat(lowest);
  let i = 0;
  for (; i + 2 <= count; i += 2) {
    const at = (<usize>i) << 3;
    const word = v128.load(stored + at);
    const value = f64x2.pmax(f64x2.pmin(v128.load(wanted + at), most), least);
    peak = f64x2.pmax(peak, f64x2.abs(word));
    residual = f64x2.pmax(residual, f64x2.abs(f64x2.sub(word, value)));
  }
  if (i < count) {
    const at = (<usize>i) << 3;
    const word = v128.load64_splat(stored + at);
    const value = f64x2.pmax(f64x2.pmin(v128.load64_splat(wanted + at), most), least);
    peak = f64x2.pmax(peak, f64x2.abs(word));
    residual = f64x2.pmax(residual, f64x2.abs(f64x2.sub(word, value)));
  }
  f64.store(extremes, Math.max(f64x2.extract_lane(peak, 0), f64x2.extract_lane(peak, 1)));
  f64.store(extremes, Math.max(f64x2.extract_lane(residual, 0), f64x2.extract_lane(residual, 1)), 8);
}

// AssemblyScript: see core/audio/kernels/README.md.
import { bend, highest, narrowTo } from './true-peak';

/** Samples on each side of the stretch between two samples that a point is made of. */
const SIDE: i32 = 16;
/** Samples that are passed over together where none of them can come over. */
const TOGETHER: i32 = 16;

/**
 * Raises each value at `into` to the highest magnitude of a sample and of seven points up to the next one, four samples at a time, in single
 * precision. Stretches that don't bend sharply enough to come over `most` are passed over. As in core/audio/src/stages/peaks.ts.
 * @param audio the first sample, with 15 samples before it and 16 after the last; three more are read beyond
 * @param count a multiple of 4
 * @param narrowed room for as many 32-bit samples as `audio` has with those around it
 * @param table seven rows of 16 weights, 32-bit: of sums and differences of samples that lie alike on both sides
 * @param slope, bending as in core/audio/src/measure/true-peak.ts
 */
export function peaksBetween(
  audio: usize,
  count: i32,
  narrowed: usize,
  table: usize,
  slope: f64,
  bending: f64,
  most: f64,
  into: usize,
): void {
  const first = audio - ((<usize>(SIDE - 1)) << 3);
  for (let from = 0; from < count; from += TOGETHER) {
    const width = min(TOGETHER, count - from);
    const here = first + ((<usize>from) << 3);
    const middle = highest(here, SIDE - 1, SIDE + width);
    const bound = middle * slope + bend(here, 0, width + 2 * SIDE - 1) * bending;
    // A hair more, for the rounding of what is computed in single precision.
    if (bound * (1 + 1e-5) <= most) continue;
    narrowTo(here, width + 2 * SIDE, narrowed);
    for (let i = 0; i < width; i += 4) {
      const near = narrowed + ((<usize>i) << 2);
      const far = near + ((<usize>(2 * SIDE - 1)) << 2);
      let s1 = f32x4.splat(0);
      let s2 = f32x4.splat(0);
      let s3 = f32x4.splat(0);
      let s4 = f32x4.splat(0);
      let d1 = f32x4.splat(0);
      let d2 = f32x4.splat(0);
      let d3 = f32x4.splat(0);
      for (let tap = 0; tap < SIDE; tap++) {
        const step = (<usize>tap) << 2;
        const a = v128.load(near + step);
        const b = v128.load(far - step);
        const sum = f32x4.add(a, b);
        const difference = f32x4.sub(a, b);
        const weights = table + step;
        s1 = f32x4.add(s1, f32x4.mul(v128.load32_splat(weights), sum));
        s2 = f32x4.add(s2, f32x4.mul(v128.load32_splat(weights, 64), sum));
        s3 = f32x4.add(s3, f32x4.mul(v128.load32_splat(weights, 128), sum));
        s4 = f32x4.add(s4, f32x4.mul(v128.load32_splat(weights, 192), sum));
        d1 = f32x4.add(d1, f32x4.mul(v128.load32_splat(weights, 256), difference));
        d2 = f32x4.add(d2, f32x4.mul(v128.load32_splat(weights, 320), difference));
        d3 = f32x4.add(d3, f32x4.mul(v128.load32_splat(weights, 384), difference));
      }
      let peak = f32x4.abs(v128.load(near, (SIDE - 1) * 4));
      // Of a sum and a difference the larger magnitude is that of both magnitudes together.
      peak = f32x4.pmax(peak, f32x4.add(f32x4.abs(s1), f32x4.abs(d1)));
      peak = f32x4.pmax(peak, f32x4.add(f32x4.abs(s2), f32x4.abs(d2)));
      peak = f32x4.pmax(peak, f32x4.add(f32x4.abs(s3), f32x4.abs(d3)));
      peak = f32x4.pmax(peak, f32x4.abs(s4));
      const at = into + ((<usize>(from + i)) << 3);
      v128.store(at, f64x2.pmax(v128.load(at), f64x2.promote_low_f32x4(peak)));
      const rest = f64x2.promote_low_f32x4(v128.shuffle<i32>(peak, peak, 2, 3, 2, 3));
      v128.store(at, f64x2.pmax(v128.load(at, 16), rest), 16);
    }
  }
}

// AssemblyScript: see core/kernels/README.md.

/** As in core/src/measure/true-peak.ts. */
const TAPS: i32 = 24;
const HALF: i32 = 12;
const STRIDE: i32 = 64;
const CORE_FROM: i32 = 8;

/** The highest magnitude in `[from, to)` of 64-bit samples. */
function highest(audio: usize, from: i32, to: i32): f64 {
  let most = f64x2.splat(0);
  let i = from;
  for (; i + 2 <= to; i += 2) most = f64x2.pmax(most, f64x2.abs(v128.load(audio + ((<usize>i) << 3))));
  let peak = Math.max(f64x2.extract_lane(most, 0), f64x2.extract_lane(most, 1));
  if (i < to) peak = Math.max(peak, Math.abs(f64.load(audio + ((<usize>i) << 3))));
  return peak;
}

/**
 * The higher of `peak` and the highest magnitude of a signal, samples and points between them. Points that can't reach the peak are
 * passed over, two at a time.
 * @param table rows of 24 weights, one for each point between two samples
 * @param reach the most that a full-scale signal can reach at any point, `outerReach` what the taps outside of the middle eight can add
 */
export function truePeak(
  audio: usize,
  length: i32,
  table: usize,
  rows: i32,
  reach: f64,
  outerReach: f64,
  peak: f64,
): f64 {
  for (let from = 0; from + TAPS <= length; from += STRIDE) {
    const left = length - TAPS + 1 - from;
    const positions = left < STRIDE ? left : STRIDE;
    const most = highest(audio, from, from + positions + TAPS - 1);
    if (most * reach <= peak) continue;
    peak = Math.max(peak, highest(audio, from + HALF, from + HALF + positions));
    const outer = most * outerReach * (1 + 1e-9) + 1e-300;
    for (let row = 0; row < rows; row++)
      peak = between(
        audio + ((<usize>from) << 3),
        positions,
        table + ((<usize>(row * TAPS)) << 3),
        outer,
        peak,
      );
  }
  return peak;
}

function between(audio: usize, positions: i32, row: usize, outer: f64, peak: f64): f64 {
  const core = row + ((<usize>CORE_FROM) << 3);
  const t0 = f64x2.splat(f64.load(core));
  const t1 = f64x2.splat(f64.load(core, 8));
  const t2 = f64x2.splat(f64.load(core, 16));
  const t3 = f64x2.splat(f64.load(core, 24));
  const t4 = f64x2.splat(f64.load(core, 32));
  const t5 = f64x2.splat(f64.load(core, 40));
  const t6 = f64x2.splat(f64.load(core, 48));
  const t7 = f64x2.splat(f64.load(core, 56));
  const far = f64x2.splat(outer);
  let bar = f64x2.splat(peak);
  // The last pair may reach one position beyond: it is looked at, but not counted.
  for (let i = 0; i < positions; i += 2) {
    const at = audio + ((<usize>(i + CORE_FROM)) << 3);
    const near = f64x2.add(
      f64x2.add(
        f64x2.add(f64x2.mul(t0, v128.load(at)), f64x2.mul(t1, v128.load(at, 8))),
        f64x2.add(f64x2.mul(t2, v128.load(at, 16)), f64x2.mul(t3, v128.load(at, 24))),
      ),
      f64x2.add(
        f64x2.add(f64x2.mul(t4, v128.load(at, 32)), f64x2.mul(t5, v128.load(at, 40))),
        f64x2.add(f64x2.mul(t6, v128.load(at, 48)), f64x2.mul(t7, v128.load(at, 56))),
      ),
    );
    if (!v128.any_true(f64x2.gt(f64x2.add(f64x2.abs(near), far), bar))) continue;
    const count = positions - i < 2 ? 1 : 2;
    for (let n = 0; n < count; n++) {
      const samples = audio + ((<usize>(i + n)) << 3);
      let whole: f64 = 0;
      for (let t = 0; t < TAPS; t++)
        whole += f64.load(row + ((<usize>t) << 3)) * f64.load(samples + ((<usize>t) << 3));
      peak = Math.max(peak, Math.abs(whole));
    }
    bar = f64x2.splat(peak);
  }
  return peak;
}

// AssemblyScript: see core/audio/kernels/README.md.

/** As in core/audio/src/measure/true-peak.ts. */
const TAPS: i32 = 24;
const HALF: i32 = 12;
const STRIDE: i32 = 64;
const CORE_FROM: i32 = 8;

/** The higher of the two. */
function top(pair: v128): f64 {
  return Math.max(f64x2.extract_lane(pair, 0), f64x2.extract_lane(pair, 1));
}

/** The highest magnitude in `[from, to)` of 64-bit samples. */
export function highest(audio: usize, from: i32, to: i32): f64 {
  let at = audio + ((<usize>from) << 3);
  const end = audio + ((<usize>to) << 3);
  // Several at a time, none of which waits for another.
  let a = f64x2.splat(0);
  let b = a;
  let c = a;
  let d = a;
  for (; at + 64 <= end; at += 64) {
    a = f64x2.pmax(a, f64x2.abs(v128.load(at)));
    b = f64x2.pmax(b, f64x2.abs(v128.load(at, 16)));
    c = f64x2.pmax(c, f64x2.abs(v128.load(at, 32)));
    d = f64x2.pmax(d, f64x2.abs(v128.load(at, 48)));
  }
  for (; at + 16 <= end; at += 16) a = f64x2.pmax(a, f64x2.abs(v128.load(at)));
  const peak = top(f64x2.pmax(f64x2.pmax(a, b), f64x2.pmax(c, d)));
  return at < end ? Math.max(peak, Math.abs(f64.load(at))) : peak;
}

/** How sharply a signal bends at two places: its second differences. */
function bends(before: v128, middle: v128, behind: v128): v128 {
  return f64x2.abs(f64x2.sub(f64x2.add(before, behind), f64x2.add(middle, middle)));
}

/** The highest magnitude of the second differences of samples `[from, to)`: how sharply the signal bends. */
export function bend(audio: usize, from: i32, to: i32): f64 {
  let at = audio + ((<usize>from) << 3);
  const end = audio + ((<usize>(to - 2)) << 3);
  let a = f64x2.splat(0);
  let b = a;
  let c = a;
  let d = a;
  let before = v128.load(at);
  for (; at + 64 <= end; at += 64) {
    const second = v128.load(at, 16);
    const third = v128.load(at, 32);
    const fourth = v128.load(at, 48);
    const behind = v128.load(at, 64);
    a = f64x2.pmax(a, bends(before, v128.load(at, 8), second));
    b = f64x2.pmax(b, bends(second, v128.load(at, 24), third));
    c = f64x2.pmax(c, bends(third, v128.load(at, 40), fourth));
    d = f64x2.pmax(d, bends(fourth, v128.load(at, 56), behind));
    before = behind;
  }
  for (; at + 16 <= end; at += 16)
    a = f64x2.pmax(a, bends(v128.load(at), v128.load(at, 8), v128.load(at, 16)));
  const sharpest = top(f64x2.pmax(f64x2.pmax(a, b), f64x2.pmax(c, d)));
  return at < end
    ? Math.max(sharpest, Math.abs(f64.load(at) + f64.load(at, 16) - (f64.load(at, 8) + f64.load(at, 8))))
    : sharpest;
}

/** Where the stretch at hand lies as 32-bit samples: below everything that callers place. */
const NARROW: usize = 256;

/** Samples rounded to 32 bits; may write up to three beyond. */
export function narrowTo(audio: usize, count: i32, into: usize): void {
  for (let i = 0; i < count; i += 4) {
    const a = f32x4.demote_f64x2_zero(v128.load(audio + ((<usize>i) << 3)));
    const b = f32x4.demote_f64x2_zero(v128.load(audio + ((<usize>i) << 3), 16));
    v128.store(into + ((<usize>i) << 2), v128.shuffle<i32>(a, b, 0, 1, 4, 5));
  }
}

/**
 * The higher of `peak` and the highest magnitude of a signal, samples and points between them. Stretches that don't bend sharply enough to
 * reach the peak are passed over; then points that can't reach it, four at a time, in single precision with room for its
 * error; the others are computed in double.
 * @param table rows of 24 weights, one for each point between two samples
 * @param reach, outerReach, slope, bending as in core/audio/src/measure/true-peak.ts
 */
export function truePeak(
  audio: usize,
  length: i32,
  table: usize,
  rows: i32,
  reach: f64,
  outerReach: f64,
  slope: f64,
  bending: f64,
  peak: f64,
): f64 {
  for (let from = 0; from + TAPS <= length; from += STRIDE) {
    const left = length - TAPS + 1 - from;
    const positions = left < STRIDE ? left : STRIDE;
    const here = audio + ((<usize>from) << 3);
    const middle = highest(here, HALF - 1, HALF + positions);
    const bound = middle * slope + bend(here, 0, positions + TAPS - 1) * bending;
    if (bound * (1 + 1e-9) <= peak) continue;
    peak = Math.max(peak, highest(here, HALF, HALF + positions));
    const most = highest(here, 0, positions + TAPS - 1);
    if (most * reach <= peak) continue;
    narrowTo(here, positions + TAPS - 1, NARROW);
    // Eight products of rounded factors, and their sum: less than 8 · 2^-22 of the most they can be.
    const outer = <f32>(most * (outerReach + reach * 2e-6) * (1 + 1e-6) + 1e-30);
    for (let row = 0; row < rows; row++)
      peak = between(here, positions, table + ((<usize>(row * TAPS)) << 3), outer, peak);
  }
  return peak;
}

/** A weight of a row for four points at once. */
function weight(core: usize, tap: i32): v128 {
  return f32x4.splat(<f32>f64.load(core + ((<usize>tap) << 3)));
}

function between(audio: usize, positions: i32, row: usize, outer: f32, peak: f64): f64 {
  const core = row + ((<usize>CORE_FROM) << 3);
  const t0 = weight(core, 0);
  const t1 = weight(core, 1);
  const t2 = weight(core, 2);
  const t3 = weight(core, 3);
  const t4 = weight(core, 4);
  const t5 = weight(core, 5);
  const t6 = weight(core, 6);
  const t7 = weight(core, 7);
  // Rounded down, so that nothing that lies on it is passed over.
  let bar = f32x4.splat(<f32>(peak * (1 - 1e-6)) - outer);
  // The last four may reach beyond: they are looked at, but not counted.
  for (let i = 0; i < positions; i += 4) {
    const at = NARROW + ((<usize>(i + CORE_FROM)) << 2);
    const near = f32x4.add(
      f32x4.add(
        f32x4.add(f32x4.mul(t0, v128.load(at)), f32x4.mul(t1, v128.load(at, 4))),
        f32x4.add(f32x4.mul(t2, v128.load(at, 8)), f32x4.mul(t3, v128.load(at, 12))),
      ),
      f32x4.add(
        f32x4.add(f32x4.mul(t4, v128.load(at, 16)), f32x4.mul(t5, v128.load(at, 20))),
        f32x4.add(f32x4.mul(t6, v128.load(at, 24)), f32x4.mul(t7, v128.load(at, 28))),
      ),
    );
    // What is no number counts as one that may.
    if (i32x4.all_true(f32x4.le(f32x4.abs(near), bar))) continue;
    const count = positions - i < 4 ? positions - i : 4;
    for (let n = 0; n < count; n++) {
      const samples = audio + ((<usize>(i + n)) << 3);
      let whole: f64 = 0;
      for (let t = 0; t < TAPS; t++)
        whole += f64.load(row + ((<usize>t) << 3)) * f64.load(samples + ((<usize>t) << 3));
      peak = Math.max(peak, Math.abs(whole));
    }
    bar = f32x4.splat(<f32>(peak * (1 - 1e-6)) - outer);
  }
  return peak;
}

// AssemblyScript: the hot loops of the core with SIMD. `npm run kernels` compiles them into core/src/dsp/kernels-wasm.ts;
// the plain TypeScript beside each caller is the reference and gives the same bits.

/**
 * Polyphase resampling of both channels. For each output sample a row of `taps` weights (a multiple of 8) is laid over the input; sums
 * are kept apart by tap modulo 8.
 * @param table offset of the rows, `up` of them
 * @param phase row of the first output sample
 * @param at input sample under its first tap
 */
export function resample(
  table: usize,
  taps: i32,
  up: i32,
  down: i32,
  phase: i32,
  at: i32,
  count: i32,
  inLeft: usize,
  inRight: usize,
  outLeft: usize,
  outRight: usize,
): void {
  for (let i = 0; i < count; i++) {
    let w = table + ((<usize>(phase * taps)) << 3);
    let l = inLeft + ((<usize>at) << 3);
    let r = inRight + ((<usize>at) << 3);
    let l0 = f64x2.splat(0);
    let l1 = f64x2.splat(0);
    let l2 = f64x2.splat(0);
    let l3 = f64x2.splat(0);
    let r0 = f64x2.splat(0);
    let r1 = f64x2.splat(0);
    let r2 = f64x2.splat(0);
    let r3 = f64x2.splat(0);
    for (let t = 0; t < taps; t += 8) {
      const w0 = v128.load(w);
      const w1 = v128.load(w, 16);
      const w2 = v128.load(w, 32);
      const w3 = v128.load(w, 48);
      l0 = f64x2.add(l0, f64x2.mul(w0, v128.load(l)));
      r0 = f64x2.add(r0, f64x2.mul(w0, v128.load(r)));
      l1 = f64x2.add(l1, f64x2.mul(w1, v128.load(l, 16)));
      r1 = f64x2.add(r1, f64x2.mul(w1, v128.load(r, 16)));
      l2 = f64x2.add(l2, f64x2.mul(w2, v128.load(l, 32)));
      r2 = f64x2.add(r2, f64x2.mul(w2, v128.load(r, 32)));
      l3 = f64x2.add(l3, f64x2.mul(w3, v128.load(l, 48)));
      r3 = f64x2.add(r3, f64x2.mul(w3, v128.load(r, 48)));
      w += 64;
      l += 64;
      r += 64;
    }
    const left = f64x2.add(f64x2.add(l0, l1), f64x2.add(l2, l3));
    const right = f64x2.add(f64x2.add(r0, r1), f64x2.add(r2, r3));
    const to = (<usize>i) << 3;
    f64.store(outLeft + to, f64x2.extract_lane(left, 0) + f64x2.extract_lane(left, 1));
    f64.store(outRight + to, f64x2.extract_lane(right, 0) + f64x2.extract_lane(right, 1));
    phase += down;
    at += phase / up;
    phase %= up;
  }
}

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

/** Error-feedback coefficients, as in core/src/dsp/dither.ts. */
const H0: f64 = 2.033;
const H1: f64 = -2.165;
const H2: f64 = 1.959;
const H3: f64 = -1.59;
const H4: f64 = 0.6149;

function mix(value: i32): i32 {
  let x = value;
  x = (x ^ (<i32>((<u32>x) >>> 16))) * 0x7feb352d;
  x = (x ^ (<i32>((<u32>x) >>> 15))) * 0x846ca68b;
  return x ^ (<i32>((<u32>x) >>> 16));
}

/** As in core/src/dsp/random.ts. */
function uniform(a: i32, b: i32, index: i64): f64 {
  const low = <i32>index;
  const high = <i32>(index >> 32);
  return <f64>(<u32>mix(mix(low ^ a) + (high ^ b))) / 4294967296.0;
}

function limit(word: f64, scale: f64): f64 {
  return (word >= scale ? scale - 1 : word < -scale ? -scale : word) / scale;
}

/**
 * Shortens one channel of a run of samples in place to whole steps of 1/scale.
 * @param kind 0 rounds only, 1 rectangular, 2 triangular, 3 shaped
 * @param position of the first sample of the run on the disc; `channel` 0 or 1
 * @param errors the last five errors of the channel, newest first
 */
export function shorten(
  audio: usize,
  count: i32,
  position: f64,
  channel: i32,
  kind: i32,
  scale: f64,
  a: i32,
  b: i32,
  errors: usize,
): void {
  let index = (<i64>position * 2 + channel) * 2;
  let e0 = f64.load(errors);
  let e1 = f64.load(errors, 8);
  let e2 = f64.load(errors, 16);
  let e3 = f64.load(errors, 24);
  let e4 = f64.load(errors, 32);
  for (let i = 0; i < count; i++, index += 4) {
    const at = audio + ((<usize>i) << 3);
    const x = f64.load(at) * scale;
    let word: f64;
    if (kind == 0) word = Math.floor(x + 0.5);
    else if (kind == 1) word = Math.floor(x + uniform(a, b, index));
    else {
      const noise = uniform(a, b, index) - uniform(a, b, index + 1);
      if (kind == 2) word = Math.floor(x + noise + 0.5);
      else {
        const v = x - H0 * e0 - H1 * e1 - H2 * e2 - H3 * e3 - H4 * e4;
        word = Math.floor(v + noise + 0.5);
        e4 = e3;
        e3 = e2;
        e2 = e1;
        e1 = e0;
        e0 = word - v;
      }
    }
    f64.store(at, limit(word, scale));
  }
  f64.store(errors, e0);
  f64.store(errors, e1, 8);
  f64.store(errors, e2, 16);
  f64.store(errors, e3, 24);
  f64.store(errors, e4, 32);
}

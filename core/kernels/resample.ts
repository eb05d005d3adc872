// AssemblyScript: see core/kernels/README.md.

/**
 * Polyphase resampling of both channels. For each output sample a row of `taps` weights (a multiple of 8) is laid over the input; sums
 * are kept apart by tap modulo 8.
 * @param table offset of the rows, `up` of them
 * @param phase row of the first output sample
 * @param inLeft, inRight the input from the sample under its first tap on
 */
export function resample(
  table: usize,
  taps: i32,
  up: i32,
  down: i32,
  phase: i32,
  count: i32,
  inLeft: usize,
  inRight: usize,
  outLeft: usize,
  outRight: usize,
): void {
  // A division for each sample would cost as much as a short row.
  const step = down / up;
  const rest = down % up;
  let at = 0;
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
    at += step;
    phase += rest;
    if (phase >= up) {
      phase -= up;
      at++;
    }
  }
}

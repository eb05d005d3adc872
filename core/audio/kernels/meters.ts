// AssemblyScript: see core/audio/kernels/README.md.

/**
 * K-weighted power of runs of samples that follow each other: the shelf, then the high-pass, left and right side by side.
 * @param ends where each run ends, 32-bit numbers; the first begins at 0
 * @param state delays of the shelf (two) and of the high-pass (two), each of left and right
 * @param powers takes the sum of the squares of both channels in each run
 */
export function weigh(
  left: usize,
  right: usize,
  ends: usize,
  runs: i32,
  b0: f64,
  b1: f64,
  b2: f64,
  a1: f64,
  a2: f64,
  c1: f64,
  c2: f64,
  state: usize,
  powers: usize,
): void {
  const vb0 = f64x2.splat(b0);
  const vb1 = f64x2.splat(b1);
  const vb2 = f64x2.splat(b2);
  const va1 = f64x2.splat(a1);
  const va2 = f64x2.splat(a2);
  const vc1 = f64x2.splat(c1);
  const vc2 = f64x2.splat(c2);
  const two = f64x2.splat(2);
  let s1 = v128.load(state);
  let s2 = v128.load(state, 16);
  let p1 = v128.load(state, 32);
  let p2 = v128.load(state, 48);
  let i = 0;
  for (let run = 0; run < runs; run++) {
    const end = i32.load(ends + ((<usize>run) << 2));
    let sum = f64x2.splat(0);
    for (; i < end; i++) {
      const at = (<usize>i) << 3;
      const x = v128.load64_lane(right + at, v128.load64_zero(left + at), 1);
      const y = f64x2.add(f64x2.mul(vb0, x), s1);
      s1 = f64x2.sub(f64x2.add(f64x2.mul(vb1, x), s2), f64x2.mul(va1, y));
      s2 = f64x2.sub(f64x2.mul(vb2, x), f64x2.mul(va2, y));
      const z = f64x2.add(y, p1);
      p1 = f64x2.sub(f64x2.sub(p2, f64x2.mul(two, y)), f64x2.mul(vc1, z));
      p2 = f64x2.sub(y, f64x2.mul(vc2, z));
      sum = f64x2.add(sum, f64x2.mul(z, z));
    }
    f64.store(powers + ((<usize>run) << 3), f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1));
  }
  v128.store(state, s1);
  v128.store(state, s2, 16);
  v128.store(state, p1, 32);
  v128.store(state, p2, 48);
}

/**
 * Sums over a block, as doubles at `out`: of left, of right, of their squares, of their products, and the highest magnitude of both. Each is the
 * sum over the even samples and that over the odd ones.
 */
export function statistics(left: usize, right: usize, count: i32, out: usize): void {
  let sumL = f64x2.splat(0);
  let sumR = sumL;
  let powerL = sumL;
  let powerR = sumL;
  let cross = sumL;
  let most = sumL;
  let i = 0;
  for (; i + 2 <= count; i += 2) {
    const l = v128.load(left + ((<usize>i) << 3));
    const r = v128.load(right + ((<usize>i) << 3));
    sumL = f64x2.add(sumL, l);
    sumR = f64x2.add(sumR, r);
    powerL = f64x2.add(powerL, f64x2.mul(l, l));
    powerR = f64x2.add(powerR, f64x2.mul(r, r));
    cross = f64x2.add(cross, f64x2.mul(l, r));
    most = f64x2.pmax(most, f64x2.pmax(f64x2.abs(l), f64x2.abs(r)));
  }
  if (i < count) {
    const l = v128.load64_zero(left + ((<usize>i) << 3));
    const r = v128.load64_zero(right + ((<usize>i) << 3));
    sumL = f64x2.add(sumL, l);
    sumR = f64x2.add(sumR, r);
    powerL = f64x2.add(powerL, f64x2.mul(l, l));
    powerR = f64x2.add(powerR, f64x2.mul(r, r));
    cross = f64x2.add(cross, f64x2.mul(l, r));
    most = f64x2.pmax(most, f64x2.pmax(f64x2.abs(l), f64x2.abs(r)));
  }
  f64.store(out, both(sumL));
  f64.store(out, both(sumR), 8);
  f64.store(out, both(powerL), 16);
  f64.store(out, both(powerR), 24);
  f64.store(out, both(cross), 32);
  f64.store(out, Math.max(f64x2.extract_lane(most, 0), f64x2.extract_lane(most, 1)), 40);
}

/** The sum of the two. */
function both(pair: v128): f64 {
  return f64x2.extract_lane(pair, 0) + f64x2.extract_lane(pair, 1);
}

// AssemblyScript: see core/audio/kernels/README.md.

/** Both channels of a sample, one a lane. */
function both(left: usize, right: usize, at: usize): v128 {
  return v128.load64_lane(right + at, v128.load64_zero(left + at), 1);
}

function put(left: usize, right: usize, at: usize, value: v128): void {
  v128.store64_lane(left + at, value, 0);
  v128.store64_lane(right + at, value, 1);
}

/**
 * Runs stereo audio through second-order sections in place (transposed direct form II), three of them in one walk, so that one works while
 * another waits for its own last sample.
 * @param coefficients five doubles a section: b0, b1, b2, a1, a2
 * @param memory four doubles a section: first left, first right, second left, second right
 */
export function sections(
  left: usize,
  right: usize,
  count: i32,
  coefficients: usize,
  number: i32,
  memory: usize,
): void {
  const end = (<usize>count) << 3;
  let from = coefficients;
  let kept = memory;
  let rest = number;
  for (; rest >= 3; rest -= 3) {
    const pB0 = v128.load64_splat(from, 0);
    const pB1 = v128.load64_splat(from, 8);
    const pB2 = v128.load64_splat(from, 16);
    const pA1 = v128.load64_splat(from, 24);
    const pA2 = v128.load64_splat(from, 32);
    const qB0 = v128.load64_splat(from, 40);
    const qB1 = v128.load64_splat(from, 48);
    const qB2 = v128.load64_splat(from, 56);
    const qA1 = v128.load64_splat(from, 64);
    const qA2 = v128.load64_splat(from, 72);
    const rB0 = v128.load64_splat(from, 80);
    const rB1 = v128.load64_splat(from, 88);
    const rB2 = v128.load64_splat(from, 96);
    const rA1 = v128.load64_splat(from, 104);
    const rA2 = v128.load64_splat(from, 112);
    let pFirst = v128.load(kept, 0);
    let pSecond = v128.load(kept, 16);
    let qFirst = v128.load(kept, 32);
    let qSecond = v128.load(kept, 48);
    let rFirst = v128.load(kept, 64);
    let rSecond = v128.load(kept, 80);
    for (let at: usize = 0; at < end; at += 8) {
      const w = both(left, right, at);
      const x = f64x2.add(f64x2.mul(pB0, w), pFirst);
      pFirst = f64x2.sub(f64x2.add(f64x2.mul(pB1, w), pSecond), f64x2.mul(pA1, x));
      pSecond = f64x2.sub(f64x2.mul(pB2, w), f64x2.mul(pA2, x));
      const y = f64x2.add(f64x2.mul(qB0, x), qFirst);
      qFirst = f64x2.sub(f64x2.add(f64x2.mul(qB1, x), qSecond), f64x2.mul(qA1, y));
      qSecond = f64x2.sub(f64x2.mul(qB2, x), f64x2.mul(qA2, y));
      const z = f64x2.add(f64x2.mul(rB0, y), rFirst);
      rFirst = f64x2.sub(f64x2.add(f64x2.mul(rB1, y), rSecond), f64x2.mul(rA1, z));
      rSecond = f64x2.sub(f64x2.mul(rB2, y), f64x2.mul(rA2, z));
      put(left, right, at, z);
    }
    v128.store(kept, pFirst, 0);
    v128.store(kept, pSecond, 16);
    v128.store(kept, qFirst, 32);
    v128.store(kept, qSecond, 48);
    v128.store(kept, rFirst, 64);
    v128.store(kept, rSecond, 80);
    from += 120;
    kept += 96;
  }
  for (; rest > 0; rest--) {
    const b0 = v128.load64_splat(from, 0);
    const b1 = v128.load64_splat(from, 8);
    const b2 = v128.load64_splat(from, 16);
    const a1 = v128.load64_splat(from, 24);
    const a2 = v128.load64_splat(from, 32);
    let first = v128.load(kept);
    let second = v128.load(kept, 16);
    for (let at: usize = 0; at < end; at += 8) {
      const x = both(left, right, at);
      const y = f64x2.add(f64x2.mul(b0, x), first);
      first = f64x2.sub(f64x2.add(f64x2.mul(b1, x), second), f64x2.mul(a1, y));
      second = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y));
      put(left, right, at, y);
    }
    v128.store(kept, first);
    v128.store(kept, second, 16);
    from += 40;
    kept += 32;
  }
}

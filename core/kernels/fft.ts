// AssemblyScript: see core/kernels/README.md.

/** Multiplies samples by weights in place; `count` is even. */
export function multiply(audio: usize, weights: usize, count: i32): void {
  for (let i = 0; i < count; i += 2) {
    const at = (<usize>i) << 3;
    v128.store(audio + at, f64x2.mul(v128.load(audio + at), v128.load(weights + at)));
  }
}

/** Brings values into the order of their reversed indexes, which are 32-bit numbers, and does the stages of 2 and 4 points. */
export function fftBegin(re: usize, im: usize, size: i32, reversed: usize): void {
  for (let i = 0; i < size; i++) {
    const j = i32.load(reversed + ((<usize>i) << 2));
    if (j <= i) continue;
    const a = (<usize>i) << 3;
    const b = (<usize>j) << 3;
    const r = f64.load(re + a);
    const q = f64.load(im + a);
    f64.store(re + a, f64.load(re + b));
    f64.store(im + a, f64.load(im + b));
    f64.store(re + b, r);
    f64.store(im + b, q);
  }
  for (let i = 0; i < size; i += 4) {
    const at = (<usize>i) << 3;
    const ra = v128.load(re + at);
    const rb = v128.load(re + at, 16);
    const ia = v128.load(im + at);
    const ib = v128.load(im + at, 16);
    // The even ones of both pairs, then the odd ones: sums lie beside sums, differences beside differences.
    const re0 = v128.shuffle<f64>(ra, rb, 0, 2);
    const re1 = v128.shuffle<f64>(ra, rb, 1, 3);
    const im0 = v128.shuffle<f64>(ia, ib, 0, 2);
    const im1 = v128.shuffle<f64>(ia, ib, 1, 3);
    const rs = f64x2.add(re0, re1);
    const is = f64x2.add(im0, im1);
    const rd = f64x2.sub(re0, re1);
    const id = f64x2.sub(im0, im1);
    const r0 = f64x2.extract_lane(rs, 0);
    const r2 = f64x2.extract_lane(rs, 1);
    const i0 = f64x2.extract_lane(is, 0);
    const i2 = f64x2.extract_lane(is, 1);
    const r1 = f64x2.extract_lane(rd, 0);
    const r3 = f64x2.extract_lane(rd, 1);
    const i1 = f64x2.extract_lane(id, 0);
    const i3 = f64x2.extract_lane(id, 1);
    f64.store(re + at, r0 + r2);
    f64.store(im + at, i0 + i2);
    f64.store(re + at, r1 + i3, 8);
    f64.store(im + at, i1 - r3, 8);
    f64.store(re + at, r0 - r2, 16);
    f64.store(im + at, i0 - i2, 16);
    f64.store(re + at, r1 - i3, 24);
    f64.store(im + at, i1 + r3, 24);
  }
}

/** One stage of radix 2, as in core/src/measure/fft.ts; `half` is even. */
export function fftStage(re: usize, im: usize, size: i32, half: i32, cos: usize, sin: usize): void {
  const span = (<usize>half) << 3;
  for (let start = 0; start < size; start += 2 * half) {
    for (let k = 0; k < half; k += 2) {
      const a = (<usize>(start + k)) << 3;
      const b = a + span;
      const c = v128.load(cos + ((<usize>k) << 3));
      const s = v128.load(sin + ((<usize>k) << 3));
      const bRe = v128.load(re + b);
      const bIm = v128.load(im + b);
      const aRe = v128.load(re + a);
      const aIm = v128.load(im + a);
      const tr = f64x2.sub(f64x2.mul(bRe, c), f64x2.mul(bIm, s));
      const ti = f64x2.add(f64x2.mul(bRe, s), f64x2.mul(bIm, c));
      v128.store(re + b, f64x2.sub(aRe, tr));
      v128.store(im + b, f64x2.sub(aIm, ti));
      v128.store(re + a, f64x2.add(aRe, tr));
      v128.store(im + a, f64x2.add(aIm, ti));
    }
  }
}

/** Two stages in one walk over memory, as in core/src/measure/fft.ts; `half` is even. */
export function fftStages(
  re: usize,
  im: usize,
  size: i32,
  half: i32,
  cos1: usize,
  sin1: usize,
  cos2: usize,
  sin2: usize,
): void {
  const span = (<usize>half) << 3;
  for (let start = 0; start < size; start += 4 * half) {
    for (let k = 0; k < half; k += 2) {
      const at = (<usize>k) << 3;
      const c1 = v128.load(cos1 + at);
      const s1 = v128.load(sin1 + at);
      const c2 = v128.load(cos2 + at);
      const s2 = v128.load(sin2 + at);
      const i0 = (<usize>(start + k)) << 3;
      const i1 = i0 + span;
      const i2 = i1 + span;
      const i3 = i2 + span;
      const re1 = v128.load(re + i1);
      const im1 = v128.load(im + i1);
      const re3 = v128.load(re + i3);
      const im3 = v128.load(im + i3);
      const bRe = f64x2.sub(f64x2.mul(re1, c1), f64x2.mul(im1, s1));
      const bIm = f64x2.add(f64x2.mul(re1, s1), f64x2.mul(im1, c1));
      const dRe = f64x2.sub(f64x2.mul(re3, c1), f64x2.mul(im3, s1));
      const dIm = f64x2.add(f64x2.mul(re3, s1), f64x2.mul(im3, c1));
      const re0 = v128.load(re + i0);
      const im0 = v128.load(im + i0);
      const re2 = v128.load(re + i2);
      const im2 = v128.load(im + i2);
      const p0Re = f64x2.add(re0, bRe);
      const p0Im = f64x2.add(im0, bIm);
      const p1Re = f64x2.sub(re0, bRe);
      const p1Im = f64x2.sub(im0, bIm);
      const p2Re = f64x2.add(re2, dRe);
      const p2Im = f64x2.add(im2, dIm);
      const p3Re = f64x2.sub(re2, dRe);
      const p3Im = f64x2.sub(im2, dIm);
      const evenRe = f64x2.sub(f64x2.mul(p2Re, c2), f64x2.mul(p2Im, s2));
      const evenIm = f64x2.add(f64x2.mul(p2Re, s2), f64x2.mul(p2Im, c2));
      const oddRe = f64x2.add(f64x2.mul(p3Re, s2), f64x2.mul(p3Im, c2));
      const oddIm = f64x2.sub(f64x2.mul(p3Im, s2), f64x2.mul(p3Re, c2));
      v128.store(re + i0, f64x2.add(p0Re, evenRe));
      v128.store(im + i0, f64x2.add(p0Im, evenIm));
      v128.store(re + i2, f64x2.sub(p0Re, evenRe));
      v128.store(im + i2, f64x2.sub(p0Im, evenIm));
      v128.store(re + i1, f64x2.add(p1Re, oddRe));
      v128.store(im + i1, f64x2.add(p1Im, oddIm));
      v128.store(re + i3, f64x2.sub(p1Re, oddRe));
      v128.store(im + i3, f64x2.sub(p1Im, oddIm));
    }
  }
}

/** Adds half of the power of each pair of bins k and size − k, for k from 1 to size/2 − 1, to the doubles at `power`. */
export function addPowers(re: usize, im: usize, size: i32, power: usize): void {
  for (let k = 1; k < size / 2; k++) {
    const near = (<usize>k) << 3;
    const far = (<usize>(size - k)) << 3;
    const a = f64.load(re + near);
    const b = f64.load(im + near);
    const c = f64.load(re + far);
    const d = f64.load(im + far);
    f64.store(power + near, f64.load(power + near) + (a * a + b * b + c * c + d * d) / 2);
  }
}

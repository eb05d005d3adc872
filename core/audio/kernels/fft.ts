// AssemblyScript: see core/audio/kernels/README.md. The steps of a Fourier transform, as in core/audio/src/dsp/fft.ts.

@inline
function add(a: v128, b: v128): v128 {
  return f64x2.add(a, b);
}
@inline
function sub(a: v128, b: v128): v128 {
  return f64x2.sub(a, b);
}
@inline
function mul(a: v128, b: v128): v128 {
  return f64x2.mul(a, b);
}

/** Stores two values, turned by a factor where one is at hand. */
@inline
function put(turned: bool, toRe: usize, toIm: usize, re: v128, im: v128, factor: usize): void {
  if (turned) {
    const c = v128.load64_splat(factor);
    const s = v128.load64_splat(factor, 8);
    v128.store(toRe, sub(mul(re, c), mul(im, s)));
    v128.store(toIm, add(mul(re, s), mul(im, c)));
  } else {
    v128.store(toRe, re);
    v128.store(toIm, im);
  }
}

/** Two values turned by factors of their own: their real parts. */
@inline
function turnedRe(re: v128, im: v128, cos: usize, sin: usize): v128 {
  return sub(mul(re, v128.load(cos)), mul(im, v128.load(sin)));
}
/** And their imaginary parts. */
@inline
function turnedIm(re: v128, im: v128, cos: usize, sin: usize): v128 {
  return add(mul(re, v128.load(sin)), mul(im, v128.load(cos)));
}

/** Four values that lie apart, for two neighbours each, to four that lie side by side, twice. */
@inline
function weave(to: usize, a: v128, b: v128, c: v128, d: v128): void {
  v128.store(to, v128.shuffle<f64>(a, b, 0, 2));
  v128.store(to, v128.shuffle<f64>(c, d, 0, 2), 16);
  v128.store(to, v128.shuffle<f64>(a, b, 1, 3), 32);
  v128.store(to, v128.shuffle<f64>(c, d, 1, 3), 48);
}

/**
 * The first step, of radix 4.
 * @param m a quarter of the size, even
 * @param factors cosines of the first to third turn for each place, `m` of each, then the sines alike
 */
export function fftFirst(re: usize, im: usize, toRe: usize, toIm: usize, m: i32, factors: usize): void {
  const span = (<usize>m) << 3;
  for (let p = 0; p < m; p += 2) {
    const at = (<usize>p) << 3;
    const r0 = v128.load(re + at);
    const i0 = v128.load(im + at);
    const r1 = v128.load(re + at + span);
    const i1 = v128.load(im + at + span);
    const r2 = v128.load(re + at + 2 * span);
    const i2 = v128.load(im + at + 2 * span);
    const r3 = v128.load(re + at + 3 * span);
    const i3 = v128.load(im + at + 3 * span);
    const ar = add(r0, r2);
    const ai = add(i0, i2);
    const br = sub(r0, r2);
    const bi = sub(i0, i2);
    const cr = add(r1, r3);
    const ci = add(i1, i3);
    const dr = sub(r1, r3);
    const di = sub(i1, i3);
    const f = factors + at;
    const g = f + 3 * span;
    const y1r = add(br, di);
    const y1i = sub(bi, dr);
    const y2r = sub(ar, cr);
    const y2i = sub(ai, ci);
    const y3r = sub(br, di);
    const y3i = add(bi, dr);
    weave(
      toRe + 4 * at,
      add(ar, cr),
      turnedRe(y1r, y1i, f, g),
      turnedRe(y2r, y2i, f + span, g + span),
      turnedRe(y3r, y3i, f + 2 * span, g + 2 * span),
    );
    weave(
      toIm + 4 * at,
      add(ai, ci),
      turnedIm(y1r, y1i, f, g),
      turnedIm(y2r, y2i, f + span, g + span),
      turnedIm(y3r, y3i, f + 2 * span, g + 2 * span),
    );
  }
}

@inline
function two(
  turned: bool,
  re: usize,
  im: usize,
  span: usize,
  toRe: usize,
  toIm: usize,
  step: usize,
  s: usize,
  f: usize,
): void {
  for (let q: usize = 0; q < s; q += 16) {
    const r0 = v128.load(re + q);
    const i0 = v128.load(im + q);
    const r1 = v128.load(re + q + span);
    const i1 = v128.load(im + q + span);
    v128.store(toRe + q, add(r0, r1));
    v128.store(toIm + q, add(i0, i1));
    put(turned, toRe + q + step, toIm + q + step, sub(r0, r1), sub(i0, i1), f);
  }
}

@inline
function four(
  turned: bool,
  re: usize,
  im: usize,
  span: usize,
  toRe: usize,
  toIm: usize,
  step: usize,
  s: usize,
  f: usize,
): void {
  for (let q: usize = 0; q < s; q += 16) {
    const r0 = v128.load(re + q);
    const i0 = v128.load(im + q);
    const r1 = v128.load(re + q + span);
    const i1 = v128.load(im + q + span);
    const r2 = v128.load(re + q + 2 * span);
    const i2 = v128.load(im + q + 2 * span);
    const r3 = v128.load(re + q + 3 * span);
    const i3 = v128.load(im + q + 3 * span);
    const ar = add(r0, r2);
    const ai = add(i0, i2);
    const br = sub(r0, r2);
    const bi = sub(i0, i2);
    const cr = add(r1, r3);
    const ci = add(i1, i3);
    const dr = sub(r1, r3);
    const di = sub(i1, i3);
    v128.store(toRe + q, add(ar, cr));
    v128.store(toIm + q, add(ai, ci));
    put(turned, toRe + q + step, toIm + q + step, add(br, di), sub(bi, dr), f);
    put(turned, toRe + q + 2 * step, toIm + q + 2 * step, sub(ar, cr), sub(ai, ci), f + 16);
    put(turned, toRe + q + 3 * step, toIm + q + 3 * step, sub(br, di), add(bi, dr), f + 32);
  }
}

/** x0 and so many pairs, each by its weight, added in this order. */
@inline
function sum2(a: v128, wa: v128, b: v128, wb: v128): v128 {
  return add(mul(a, wa), mul(b, wb));
}
@inline
function sum3(a: v128, wa: v128, b: v128, wb: v128, c: v128, wc: v128): v128 {
  return add(add(mul(a, wa), mul(b, wb)), mul(c, wc));
}

@inline
function three(
  turned: bool,
  re: usize,
  im: usize,
  span: usize,
  toRe: usize,
  toIm: usize,
  step: usize,
  s: usize,
  f: usize,
  waves: usize,
): void {
  const c1 = v128.load64_splat(waves, 8);
  const s1 = v128.load64_splat(waves, 32);
  for (let q: usize = 0; q < s; q += 16) {
    const r0 = v128.load(re + q);
    const i0 = v128.load(im + q);
    const r1 = v128.load(re + q + span);
    const i1 = v128.load(im + q + span);
    const r2 = v128.load(re + q + 2 * span);
    const i2 = v128.load(im + q + 2 * span);
    const tr = add(r1, r2);
    const ti = add(i1, i2);
    const ar = add(r0, mul(tr, c1));
    const ai = add(i0, mul(ti, c1));
    const br = mul(sub(r1, r2), s1);
    const bi = mul(sub(i1, i2), s1);
    v128.store(toRe + q, add(r0, tr));
    v128.store(toIm + q, add(i0, ti));
    put(turned, toRe + q + step, toIm + q + step, add(ar, bi), sub(ai, br), f);
    put(turned, toRe + q + 2 * step, toIm + q + 2 * step, sub(ar, bi), add(ai, br), f + 16);
  }
}

@inline
function five(
  turned: bool,
  re: usize,
  im: usize,
  span: usize,
  toRe: usize,
  toIm: usize,
  step: usize,
  s: usize,
  f: usize,
  waves: usize,
): void {
  const c1 = v128.load64_splat(waves, 8);
  const c2 = v128.load64_splat(waves, 16);
  const s1 = v128.load64_splat(waves, 48);
  const s2 = v128.load64_splat(waves, 56);
  const s4 = f64x2.neg(s1);
  for (let q: usize = 0; q < s; q += 16) {
    const r0 = v128.load(re + q);
    const i0 = v128.load(im + q);
    const r1 = v128.load(re + q + span);
    const i1 = v128.load(im + q + span);
    const r2 = v128.load(re + q + 2 * span);
    const i2 = v128.load(im + q + 2 * span);
    const r3 = v128.load(re + q + 3 * span);
    const i3 = v128.load(im + q + 3 * span);
    const r4 = v128.load(re + q + 4 * span);
    const i4 = v128.load(im + q + 4 * span);
    const t1r = add(r1, r4);
    const t1i = add(i1, i4);
    const t2r = add(r2, r3);
    const t2i = add(i2, i3);
    const u1r = sub(r1, r4);
    const u1i = sub(i1, i4);
    const u2r = sub(r2, r3);
    const u2i = sub(i2, i3);
    v128.store(toRe + q, add(add(r0, t1r), t2r));
    v128.store(toIm + q, add(add(i0, t1i), t2i));
    let ar = add(r0, sum2(t1r, c1, t2r, c2));
    let ai = add(i0, sum2(t1i, c1, t2i, c2));
    let br = sum2(u1r, s1, u2r, s2);
    let bi = sum2(u1i, s1, u2i, s2);
    put(turned, toRe + q + step, toIm + q + step, add(ar, bi), sub(ai, br), f);
    put(turned, toRe + q + 4 * step, toIm + q + 4 * step, sub(ar, bi), add(ai, br), f + 48);
    ar = add(r0, sum2(t1r, c2, t2r, c1));
    ai = add(i0, sum2(t1i, c2, t2i, c1));
    br = sum2(u1r, s2, u2r, s4);
    bi = sum2(u1i, s2, u2i, s4);
    put(turned, toRe + q + 2 * step, toIm + q + 2 * step, add(ar, bi), sub(ai, br), f + 16);
    put(turned, toRe + q + 3 * step, toIm + q + 3 * step, sub(ar, bi), add(ai, br), f + 32);
  }
}

@inline
function seven(
  turned: bool,
  re: usize,
  im: usize,
  span: usize,
  toRe: usize,
  toIm: usize,
  step: usize,
  s: usize,
  f: usize,
  waves: usize,
): void {
  const c1 = v128.load64_splat(waves, 8);
  const c2 = v128.load64_splat(waves, 16);
  const c3 = v128.load64_splat(waves, 24);
  const s1 = v128.load64_splat(waves, 64);
  const s2 = v128.load64_splat(waves, 72);
  const s3 = v128.load64_splat(waves, 80);
  const n1 = f64x2.neg(s1);
  const n3 = f64x2.neg(s3);
  for (let q: usize = 0; q < s; q += 16) {
    const r0 = v128.load(re + q);
    const i0 = v128.load(im + q);
    const r1 = v128.load(re + q + span);
    const i1 = v128.load(im + q + span);
    const r2 = v128.load(re + q + 2 * span);
    const i2 = v128.load(im + q + 2 * span);
    const r3 = v128.load(re + q + 3 * span);
    const i3 = v128.load(im + q + 3 * span);
    const r4 = v128.load(re + q + 4 * span);
    const i4 = v128.load(im + q + 4 * span);
    const r5 = v128.load(re + q + 5 * span);
    const i5 = v128.load(im + q + 5 * span);
    const r6 = v128.load(re + q + 6 * span);
    const i6 = v128.load(im + q + 6 * span);
    const t1r = add(r1, r6);
    const t1i = add(i1, i6);
    const t2r = add(r2, r5);
    const t2i = add(i2, i5);
    const t3r = add(r3, r4);
    const t3i = add(i3, i4);
    const u1r = sub(r1, r6);
    const u1i = sub(i1, i6);
    const u2r = sub(r2, r5);
    const u2i = sub(i2, i5);
    const u3r = sub(r3, r4);
    const u3i = sub(i3, i4);
    v128.store(toRe + q, add(add(add(r0, t1r), t2r), t3r));
    v128.store(toIm + q, add(add(add(i0, t1i), t2i), t3i));
    let ar = add(r0, sum3(t1r, c1, t2r, c2, t3r, c3));
    let ai = add(i0, sum3(t1i, c1, t2i, c2, t3i, c3));
    let br = sum3(u1r, s1, u2r, s2, u3r, s3);
    let bi = sum3(u1i, s1, u2i, s2, u3i, s3);
    put(turned, toRe + q + step, toIm + q + step, add(ar, bi), sub(ai, br), f);
    put(turned, toRe + q + 6 * step, toIm + q + 6 * step, sub(ar, bi), add(ai, br), f + 80);
    ar = add(r0, sum3(t1r, c2, t2r, c3, t3r, c1));
    ai = add(i0, sum3(t1i, c2, t2i, c3, t3i, c1));
    br = sum3(u1r, s2, u2r, n3, u3r, n1);
    bi = sum3(u1i, s2, u2i, n3, u3i, n1);
    put(turned, toRe + q + 2 * step, toIm + q + 2 * step, add(ar, bi), sub(ai, br), f + 16);
    put(turned, toRe + q + 5 * step, toIm + q + 5 * step, sub(ar, bi), add(ai, br), f + 64);
    ar = add(r0, sum3(t1r, c3, t2r, c1, t3r, c2));
    ai = add(i0, sum3(t1i, c3, t2i, c1, t3i, c2));
    br = sum3(u1r, s3, u2r, n1, u3r, s2);
    bi = sum3(u1i, s3, u2i, n1, u3i, s2);
    put(turned, toRe + q + 3 * step, toIm + q + 3 * step, add(ar, bi), sub(ai, br), f + 32);
    put(turned, toRe + q + 4 * step, toIm + q + 4 * step, sub(ar, bi), add(ai, br), f + 48);
  }
}

/**
 * A step that is not the first: `m` groups of `radix` runs of `run` values.
 * @param run values that lie side by side, an even number
 * @param factors cosine and sine of each turn but the first, group by group
 * @param waves cosines of the radix, from 0 on, then the sines alike
 */
export function fftStep(
  radix: i32,
  re: usize,
  im: usize,
  toRe: usize,
  toIm: usize,
  m: i32,
  run: i32,
  factors: usize,
  waves: usize,
): void {
  const s = (<usize>run) << 3;
  const span = s * <usize>m;
  const group = s * <usize>radix;
  const given = (<usize>(radix - 1)) << 4;
  let f = factors;
  for (let p = 0; p < m; p++) {
    // The factors of the first group are all 1.
    const turned = p > 0;
    if (radix == 4) {
      if (turned) four(true, re, im, span, toRe, toIm, s, s, f);
      else four(false, re, im, span, toRe, toIm, s, s, f);
    } else if (radix == 2) {
      if (turned) two(true, re, im, span, toRe, toIm, s, s, f);
      else two(false, re, im, span, toRe, toIm, s, s, f);
    } else if (radix == 3) {
      if (turned) three(true, re, im, span, toRe, toIm, s, s, f, waves);
      else three(false, re, im, span, toRe, toIm, s, s, f, waves);
    } else if (radix == 5) {
      if (turned) five(true, re, im, span, toRe, toIm, s, s, f, waves);
      else five(false, re, im, span, toRe, toIm, s, s, f, waves);
    } else {
      if (turned) seven(true, re, im, span, toRe, toIm, s, s, f, waves);
      else seven(false, re, im, span, toRe, toIm, s, s, f, waves);
    }
    re += s;
    im += s;
    toRe += group;
    toIm += group;
    f += given;
  }
}

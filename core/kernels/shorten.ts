// AssemblyScript: see core/kernels/README.md.

/** Error-feedback coefficients, as in core/src/dsp/shorten.ts. */
const H0: f64 = 2.033;
const H1: f64 = -2.165;
const H2: f64 = 1.959;
const H3: f64 = -1.59;
const H4: f64 = 0.6149;

/** Four 32-bit finalisers at once, as in core/src/dsp/random.ts. */
@inline
function mix(value: v128): v128 {
  let x = value;
  x = i32x4.mul(v128.xor(x, i32x4.shr_u(x, 16)), i32x4.splat(0x7feb352d));
  x = i32x4.mul(v128.xor(x, i32x4.shr_u(x, 15)), i32x4.splat(<i32>0x846ca68b));
  return v128.xor(x, i32x4.shr_u(x, 16));
}

/** Four random numbers of 32 bits, of an index and the three after it. */
@inline
function random(index: i64, seedA: v128, b: i32): v128 {
  const low = i32x4.add(i32x4.splat(<i32>index), i32x4(0, 1, 2, 3));
  const high = i32x4.splat((<i32>(index >> 32)) ^ b);
  return mix(i32x4.add(mix(v128.xor(low, seedA)), high));
}

/** The lower two of four numbers of 32 bits, 0 to 1. */
@inline
function uniforms(values: v128, unit: v128): v128 {
  return f64x2.mul(f64x2.convert_low_i32x4_u(values), unit);
}

/**
 * Shortens a run of samples of both channels in place to whole steps of 1/scale.
 * @param kind 1 rectangular, 2 triangular, 3 shaped
 * @param position of the first sample of the run on the disc
 * @param errors the last five errors of left, then of right, newest first
 */
export function shorten(
  left: usize,
  right: usize,
  count: i32,
  position: f64,
  kind: i32,
  scale: f64,
  a: i32,
  b: i32,
  errors: usize,
): void {
  // Left and right of one sample lie side by side: four random values serve them, as one vector.
  let index = <i64>position * 4;
  const seedA = i32x4.splat(a);
  const unit = f64x2.splat(1.0 / 4294967296.0);
  const steps = f64x2.splat(scale);
  const step = f64x2.splat(1.0 / scale);
  const half = f64x2.splat(0.5);
  const most = f64x2.splat(scale - 1);
  const least = f64x2.splat(-scale);
  let e0 = v128.load64_lane(errors, v128.load64_zero(errors, 0), 1, 40);
  let e1 = v128.load64_lane(errors, v128.load64_zero(errors, 8), 1, 48);
  let e2 = v128.load64_lane(errors, v128.load64_zero(errors, 16), 1, 56);
  let e3 = v128.load64_lane(errors, v128.load64_zero(errors, 24), 1, 64);
  let e4 = v128.load64_lane(errors, v128.load64_zero(errors, 32), 1, 72);
  let i = 0;
  // What remembers nothing goes two samples at a time.
  if (kind < 3)
    for (; i + 2 <= count; i += 2, index += 8) {
      const at = (<usize>i) << 3;
      const a0 = random(index, seedA, b);
      const a1 = random(index + 4, seedA, b);
      let l = uniforms(v128.shuffle<i32>(a0, a1, 0, 4, 0, 4), unit);
      let r = uniforms(v128.shuffle<i32>(a0, a1, 2, 6, 2, 6), unit);
      if (kind == 2) {
        l = f64x2.sub(l, uniforms(v128.shuffle<i32>(a0, a1, 1, 5, 1, 5), unit));
        r = f64x2.sub(r, uniforms(v128.shuffle<i32>(a0, a1, 3, 7, 3, 7), unit));
      }
      l = f64x2.add(f64x2.mul(v128.load(left + at), steps), l);
      r = f64x2.add(f64x2.mul(v128.load(right + at), steps), r);
      if (kind == 2) {
        l = f64x2.add(l, half);
        r = f64x2.add(r, half);
      }
      l = f64x2.pmax(f64x2.pmin(f64x2.floor(l), most), least);
      r = f64x2.pmax(f64x2.pmin(f64x2.floor(r), most), least);
      v128.store(left + at, f64x2.mul(l, step));
      v128.store(right + at, f64x2.mul(r, step));
    }
  for (; i < count; i++, index += 4) {
    const at = (<usize>i) << 3;
    const x = f64x2.mul(v128.load64_lane(right + at, v128.load64_zero(left + at), 1), steps);
    const values = random(index, seedA, b);
    const first = uniforms(v128.shuffle<i32>(values, values, 0, 2, 0, 2), unit);
    let word: v128;
    if (kind == 1) word = f64x2.floor(f64x2.add(x, first));
    else {
      const noise = f64x2.sub(first, uniforms(v128.shuffle<i32>(values, values, 1, 3, 1, 3), unit));
      if (kind == 2) word = f64x2.floor(f64x2.add(f64x2.add(x, noise), half));
      else {
        let v = f64x2.sub(x, f64x2.mul(f64x2.splat(H0), e0));
        v = f64x2.sub(v, f64x2.mul(f64x2.splat(H1), e1));
        v = f64x2.sub(v, f64x2.mul(f64x2.splat(H2), e2));
        v = f64x2.sub(v, f64x2.mul(f64x2.splat(H3), e3));
        v = f64x2.sub(v, f64x2.mul(f64x2.splat(H4), e4));
        word = f64x2.floor(f64x2.add(f64x2.add(v, noise), half));
        e4 = e3;
        e3 = e2;
        e2 = e1;
        e1 = e0;
        e0 = f64x2.sub(word, v);
      }
    }
    word = f64x2.mul(f64x2.pmax(f64x2.pmin(word, most), least), step);
    v128.store64_lane(left + at, word, 0);
    v128.store64_lane(right + at, word, 1);
  }
  store(errors, 0, e0);
  store(errors, 1, e1);
  store(errors, 2, e2);
  store(errors, 3, e3);
  store(errors, 4, e4);
}

function store(errors: usize, age: i32, value: v128): void {
  const at = errors + ((<usize>age) << 3);
  v128.store64_lane(at, value, 0);
  v128.store64_lane(at, value, 1, 40);
}

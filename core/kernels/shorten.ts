// AssemblyScript: see core/kernels/README.md.

/** Error-feedback coefficients, as in core/src/dsp/shorten.ts. */
const H0: f64 = 2.033;
const H1: f64 = -2.165;
const H2: f64 = 1.959;
const H3: f64 = -1.59;
const H4: f64 = 0.6149;

/** Four 32-bit finalisers at once, as in core/src/dsp/random.ts. */
function mix(value: v128): v128 {
  let x = value;
  x = i32x4.mul(v128.xor(x, i32x4.shr_u(x, 16)), i32x4.splat(0x7feb352d));
  x = i32x4.mul(v128.xor(x, i32x4.shr_u(x, 15)), i32x4.splat(<i32>0x846ca68b));
  return v128.xor(x, i32x4.shr_u(x, 16));
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
  for (let i = 0; i < count; i++, index += 4) {
    const at = (<usize>i) << 3;
    const x = f64x2.mul(v128.load64_lane(right + at, v128.load64_zero(left + at), 1), steps);
    const low = i32x4.add(i32x4.splat(<i32>index), i32x4(0, 1, 2, 3));
    const high = i32x4.splat((<i32>(index >> 32)) ^ b);
    const values = mix(i32x4.add(mix(v128.xor(low, seedA)), high));
    const first = f64x2.mul(f64x2.convert_low_i32x4_u(v128.shuffle<i32>(values, values, 0, 2, 0, 2)), unit);
    let word: v128;
    if (kind == 1) word = f64x2.floor(f64x2.add(x, first));
    else {
      const second = f64x2.convert_low_i32x4_u(v128.shuffle<i32>(values, values, 1, 3, 1, 3));
      const noise = f64x2.sub(first, f64x2.mul(second, unit));
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

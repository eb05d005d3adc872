// AssemblyScript: see core/audio/kernels/README.md.
import { stepsOf, storeWords, words } from './packing';
import { encode } from './words';

/** Error-feedback coefficients, as in core/audio/src/dsp/shorten.ts. */
const H0: f64 = 2.033;
const H1: f64 = -2.165;
const H2: f64 = 1.959;
const H3: f64 = -1.59;
const H4: f64 = 0.6149;

const RECTANGULAR: i32 = 1;
const SHAPED: i32 = 3;

/** Four 32-bit finalisers at once, as in core/audio/src/dsp/random.ts. */
@inline
function mix(value: v128): v128 {
  let x = value;
  x = i32x4.mul(v128.xor(x, i32x4.shr_u(x, 16)), i32x4.splat(0x7feb352d));
  x = i32x4.mul(v128.xor(x, i32x4.shr_u(x, 15)), i32x4.splat(<i32>0x846ca68b));
  return v128.xor(x, i32x4.shr_u(x, 16));
}

/** Random numbers of 32 bits, of four indices by their lower and their upper halves. */
@inline
function random(low: v128, seedA: v128, high: v128): v128 {
  return mix(i32x4.add(mix(v128.xor(low, seedA)), high));
}

/** The upper half of 2^52 as a double: with a number of 32 bits below it, it is 2^52 and that number. */
const ABOVE: i32 = 0x43300000;

/** The first two of four numbers of 32 bits, each on top of 2^52. */
@inline
function lower(values: v128): v128 {
  return v128.shuffle<i32>(values, i32x4.splat(ABOVE), 0, 4, 1, 5);
}

/** The last two. */
@inline
function upper(values: v128): v128 {
  return v128.shuffle<i32>(values, i32x4.splat(ABOVE), 2, 6, 3, 7);
}

/**
 * Shortens a run of samples of both channels to whole steps of full scale, and lays them down as interleaved little-endian words. Reads and
 * writes a few samples beyond the end: there is room for them.
 * @param count 1 or more
 * @param kind 1 rectangular, 2 triangular, 3 shaped
 * @param position of the first sample of the run on the disc
 * @param errors the last five errors of left, then of right, newest first: of the shaped kind only
 * @param format of the words, whole numbers: see packing.ts
 */
export function shorten(
  left: usize,
  right: usize,
  count: i32,
  position: f64,
  kind: i32,
  a: i32,
  b: i32,
  errors: usize,
  format: i32,
  bytes: usize,
): void {
  const index = <i64>position * 4;
  if (kind == SHAPED) shortenShaped(left, right, count, index, a, b, errors, format, bytes);
  else shortenFlat(left, right, count, index, kind, a, b, format, bytes);
}

/** The kinds that remember nothing, four samples at a time: each of four vectors holds one of the four random numbers that a sample takes. */
function shortenFlat(
  left: usize,
  right: usize,
  count: i32,
  first: i64,
  kind: i32,
  a: i32,
  b: i32,
  format: i32,
  bytes: usize,
): void {
  const scale = stepsOf(format);
  const steps = f64x2.splat(scale);
  const most = f64x2.splat(scale - 1);
  const least = f64x2.splat(-scale);
  const seedA = i32x4.splat(a);
  const unit = f64x2.splat(1.0 / 4294967296.0);
  // One number lies between 0 and 1; the difference of two between −1 and 1, and what it is added to is rounded.
  const start = kind == RECTANGULAR ? f64x2.splat(0) : f64x2.splat(0.5);
  const bottom = f64x2.splat(4503599627370496.0);
  let index = first;
  let i = 0;
  // Asked for at the end: of a loop that may not run at all, an engine makes the constants anew each time.
  do {
    let low = i32x4.add(i32x4.splat(<i32>index), i32x4(0, 4, 8, 12));
    let high = i32x4.splat((<i32>(index >> 32)) ^ b);
    // Where the lower half begins anew within the four samples, the upper one grows.
    if (<u32>index > 0xfffffff0)
      high = i32x4(
        (<i32>(index >> 32)) ^ b,
        (<i32>((index + 4) >> 32)) ^ b,
        (<i32>((index + 8) >> 32)) ^ b,
        (<i32>((index + 12) >> 32)) ^ b,
      );
    const l = random(low, seedA, high);
    const r = random(i32x4.add(low, i32x4.splat(2)), seedA, high);
    let n0 = lower(l);
    let n1 = upper(l);
    let n2 = lower(r);
    let n3 = upper(r);
    if (kind == RECTANGULAR) {
      n0 = f64x2.sub(n0, bottom);
      n1 = f64x2.sub(n1, bottom);
      n2 = f64x2.sub(n2, bottom);
      n3 = f64x2.sub(n3, bottom);
    } else {
      const l2 = random(i32x4.add(low, i32x4.splat(1)), seedA, high);
      const r2 = random(i32x4.add(low, i32x4.splat(3)), seedA, high);
      n0 = f64x2.sub(n0, lower(l2));
      n1 = f64x2.sub(n1, upper(l2));
      n2 = f64x2.sub(n2, lower(r2));
      n3 = f64x2.sub(n3, upper(r2));
    }
    const at = (<usize>i) << 3;
    n0 = f64x2.add(f64x2.add(f64x2.mul(v128.load(left + at), steps), f64x2.mul(n0, unit)), start);
    n1 = f64x2.add(f64x2.add(f64x2.mul(v128.load(left + at, 16), steps), f64x2.mul(n1, unit)), start);
    n2 = f64x2.add(f64x2.add(f64x2.mul(v128.load(right + at), steps), f64x2.mul(n2, unit)), start);
    n3 = f64x2.add(f64x2.add(f64x2.mul(v128.load(right + at, 16), steps), f64x2.mul(n3, unit)), start);
    storeWords(words(n0, n1, most, least), words(n2, n3, most, least), i, format, bytes);
    i += 4;
    index += 16;
  } while (i < count);
}

/**
 * The kind that remembers its errors, sample by sample: left and right lie side by side, four random numbers serve them, as one vector. The audio
 * becomes what the words say.
 */
function shortenShaped(
  left: usize,
  right: usize,
  count: i32,
  first: i64,
  a: i32,
  b: i32,
  errors: usize,
  format: i32,
  bytes: usize,
): void {
  const scale = stepsOf(format);
  const steps = f64x2.splat(scale);
  const step = f64x2.splat(1.0 / scale);
  const most = f64x2.splat(scale - 1);
  const least = f64x2.splat(-scale);
  const seedA = i32x4.splat(a);
  const unit = f64x2.splat(1.0 / 4294967296.0);
  const half = f64x2.splat(0.5);
  let e0 = v128.load64_lane(errors, v128.load64_zero(errors, 0), 1, 40);
  let e1 = v128.load64_lane(errors, v128.load64_zero(errors, 8), 1, 48);
  let e2 = v128.load64_lane(errors, v128.load64_zero(errors, 16), 1, 56);
  let e3 = v128.load64_lane(errors, v128.load64_zero(errors, 24), 1, 64);
  let e4 = v128.load64_lane(errors, v128.load64_zero(errors, 32), 1, 72);
  let index = first;
  let i = 0;
  do {
    const at = (<usize>i) << 3;
    const low = i32x4.add(i32x4.splat(<i32>index), i32x4(0, 1, 2, 3));
    const values = random(low, seedA, i32x4.splat((<i32>(index >> 32)) ^ b));
    // Of left and of right, the first number less the second.
    const sorted = v128.shuffle<i32>(values, values, 0, 2, 1, 3);
    const noise = f64x2.mul(f64x2.sub(lower(sorted), upper(sorted)), unit);
    let v = f64x2.mul(v128.load64_lane(right + at, v128.load64_zero(left + at), 1), steps);
    v = f64x2.sub(v, f64x2.mul(f64x2.splat(H0), e0));
    v = f64x2.sub(v, f64x2.mul(f64x2.splat(H1), e1));
    v = f64x2.sub(v, f64x2.mul(f64x2.splat(H2), e2));
    v = f64x2.sub(v, f64x2.mul(f64x2.splat(H3), e3));
    v = f64x2.sub(v, f64x2.mul(f64x2.splat(H4), e4));
    const word = f64x2.floor(f64x2.add(f64x2.add(v, noise), half));
    e4 = e3;
    e3 = e2;
    e2 = e1;
    e1 = e0;
    e0 = f64x2.sub(word, v);
    const whole = f64x2.mul(f64x2.pmax(f64x2.pmin(word, most), least), step);
    v128.store64_lane(left + at, whole, 0);
    v128.store64_lane(right + at, whole, 1);
    i++;
    index += 4;
  } while (i < count);
  store(errors, 0, e0);
  store(errors, 1, e1);
  store(errors, 2, e2);
  store(errors, 3, e3);
  store(errors, 4, e4);
  encode(left, right, count, format, bytes);
}

function store(errors: usize, age: i32, value: v128): void {
  const at = errors + ((<usize>age) << 3);
  v128.store64_lane(at, value, 0);
  v128.store64_lane(at, value, 1, 40);
}

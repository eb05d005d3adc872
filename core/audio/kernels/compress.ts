// AssemblyScript: see core/audio/kernels/README.md.

/** Frames that go through all steps together: what one writes is still near when the next reads it. */
const STRETCH: i32 = 512;

const ONE: i64 = 0x3ff0000000000000;
/** Added to a whole number it leaves that number in the low bits. */
const LOW_BITS: f64 = 6755399441055744;

/** As in core/audio/src/dsp/exponent.ts, for two numbers: the same sums in the same order. */
export function log2(x: v128): v128 {
  const raw = i64x2.add(i64x2.shr_u(x, 52), i64x2.splat(0x4330000000000000));
  const exponent = f64x2.sub(raw, f64x2.splat(4503599627370496 + 1023));
  const mantissa = v128.or(v128.and(x, i64x2.splat(0x000fffffffffffff)), i64x2.splat(ONE));
  const isHigh = f64x2.gt(mantissa, f64x2.splat(1.4142135623730951));
  const one = f64x2.splat(1);
  const m = v128.bitselect(f64x2.mul(mantissa, f64x2.splat(0.5)), mantissa, isHigh);
  const e = f64x2.add(exponent, v128.and(isHigh, one));
  const f = f64x2.div(f64x2.sub(m, one), f64x2.add(m, one));
  const z = f64x2.mul(f, f);
  let sum = f64x2.splat(1.0 / 15);
  sum = f64x2.add(f64x2.mul(sum, z), f64x2.splat(1.0 / 13));
  sum = f64x2.add(f64x2.mul(sum, z), f64x2.splat(1.0 / 11));
  sum = f64x2.add(f64x2.mul(sum, z), f64x2.splat(1.0 / 9));
  sum = f64x2.add(f64x2.mul(sum, z), f64x2.splat(1.0 / 7));
  sum = f64x2.add(f64x2.mul(sum, z), f64x2.splat(1.0 / 5));
  sum = f64x2.add(f64x2.mul(sum, z), f64x2.splat(1.0 / 3));
  sum = f64x2.add(f64x2.mul(sum, z), one);
  return f64x2.add(e, f64x2.mul(f64x2.mul(f, sum), f64x2.splat(2.8853900817779268)));
}

export function exp2(y: v128): v128 {
  const whole = f64x2.floor(f64x2.add(y, f64x2.splat(0.5)));
  const t = f64x2.mul(f64x2.sub(y, whole), f64x2.splat(0.6931471805599453));
  let sum = f64x2.splat(1.0 / 3628800);
  sum = f64x2.add(f64x2.mul(sum, t), f64x2.splat(1.0 / 362880));
  sum = f64x2.add(f64x2.mul(sum, t), f64x2.splat(1.0 / 40320));
  sum = f64x2.add(f64x2.mul(sum, t), f64x2.splat(1.0 / 5040));
  sum = f64x2.add(f64x2.mul(sum, t), f64x2.splat(1.0 / 720));
  sum = f64x2.add(f64x2.mul(sum, t), f64x2.splat(1.0 / 120));
  sum = f64x2.add(f64x2.mul(sum, t), f64x2.splat(1.0 / 24));
  sum = f64x2.add(f64x2.mul(sum, t), f64x2.splat(1.0 / 6));
  sum = f64x2.add(f64x2.mul(sum, t), f64x2.splat(0.5));
  sum = f64x2.add(f64x2.mul(sum, t), f64x2.splat(1));
  sum = f64x2.add(f64x2.mul(sum, t), f64x2.splat(1));
  const exponent = i64x2.add(f64x2.add(whole, f64x2.splat(LOW_BITS)), i64x2.splat(1023));
  return f64x2.mul(sum, i64x2.shl(exponent, 52));
}

/** exp2 of each of so many doubles, in place. */
export function exponents(values: usize, count: i32): void {
  for (let i = 0; i < count; i += 2) {
    const at = values + ((<usize>i) << 3);
    v128.store(at, exp2(v128.load(at)));
  }
}

/** Lets stereo audio through seven all-passes (c + z⁻¹)/(1 + c·z⁻¹) and writes the square of what comes out, both channels side by side. */
function squaresOf(
  left: usize,
  right: usize,
  count: i32,
  coefficients: usize,
  memory: usize,
  into: usize,
): void {
  const c0 = v128.load64_splat(coefficients);
  const c1 = v128.load64_splat(coefficients, 8);
  const c2 = v128.load64_splat(coefficients, 16);
  const c3 = v128.load64_splat(coefficients, 24);
  const c4 = v128.load64_splat(coefficients, 32);
  const c5 = v128.load64_splat(coefficients, 40);
  const c6 = v128.load64_splat(coefficients, 48);
  let m0 = v128.load(memory);
  let m1 = v128.load(memory, 16);
  let m2 = v128.load(memory, 32);
  let m3 = v128.load(memory, 48);
  let m4 = v128.load(memory, 64);
  let m5 = v128.load(memory, 80);
  let m6 = v128.load(memory, 96);
  for (let i = 0; i < count; i++) {
    const at = (<usize>i) << 3;
    const x0 = v128.load64_lane(right + at, v128.load64_zero(left + at), 1);
    const x1 = f64x2.add(f64x2.mul(c0, x0), m0);
    m0 = f64x2.sub(x0, f64x2.mul(c0, x1));
    const x2 = f64x2.add(f64x2.mul(c1, x1), m1);
    m1 = f64x2.sub(x1, f64x2.mul(c1, x2));
    const x3 = f64x2.add(f64x2.mul(c2, x2), m2);
    m2 = f64x2.sub(x2, f64x2.mul(c2, x3));
    const x4 = f64x2.add(f64x2.mul(c3, x3), m3);
    m3 = f64x2.sub(x3, f64x2.mul(c3, x4));
    const x5 = f64x2.add(f64x2.mul(c4, x4), m4);
    m4 = f64x2.sub(x4, f64x2.mul(c4, x5));
    const x6 = f64x2.add(f64x2.mul(c5, x5), m5);
    m5 = f64x2.sub(x5, f64x2.mul(c5, x6));
    const x7 = f64x2.add(f64x2.mul(c6, x6), m6);
    m6 = f64x2.sub(x6, f64x2.mul(c6, x7));
    v128.store(into + (at << 1), f64x2.mul(x7, x7));
  }
  v128.store(memory, m0);
  v128.store(memory, m1, 16);
  v128.store(memory, m2, 32);
  v128.store(memory, m3, 48);
  v128.store(memory, m4, 64);
  v128.store(memory, m5, 80);
  v128.store(memory, m6, 96);
}

/**
 * The compressor in place, as in core/audio/src/stages/compressor.ts.
 * @param coefficients seven of each of both chains
 * @param memory two doubles (left, right) for each pole of both chains, then the power and the reduction
 * @param law eight doubles: decay of the power, of attack and release, then threshold, slope, knee, makeup, and the power that no level tells
 * @param scratch 5 doubles for each of up to 512 frames
 */
export function compress(
  left: usize,
  right: usize,
  count: i32,
  coefficients: usize,
  memory: usize,
  law: usize,
  scratch: usize,
): void {
  const powerDecay = f64.load(law);
  const attack = f64.load(law, 8);
  const release = f64.load(law, 16);
  const threshold = v128.load64_splat(law, 24);
  const slope = v128.load64_splat(law, 32);
  const knee = f64.load(law, 40);
  const makeup = f64.load(law, 48);
  const none = v128.load64_splat(law, 56);
  const above = f64x2.splat(knee / 2);
  const below = f64x2.splat(-knee / 2);
  const twice = f64x2.splat(2 * knee);
  const state = memory + 224;
  let power = f64.load(state);
  let reduction = f64.load(state, 8);
  const inPhase = scratch;
  const quadrature = scratch + ((<usize>STRETCH) << 4);
  const values = quadrature + ((<usize>STRETCH) << 4);
  for (let from = 0; from < count; from += STRETCH) {
    const width = min(STRETCH, count - from);
    const l = left + ((<usize>from) << 3);
    const r = right + ((<usize>from) << 3);
    squaresOf(l, r, width, coefficients, memory, inPhase);
    squaresOf(l, r, width, coefficients + 56, memory + 112, quadrature);
    for (let i = 0; i < width; i++) {
      const at = (<usize>i) << 4;
      const squares = f64x2.add(v128.load(inPhase + at), v128.load(quadrature + at));
      const mean = (f64x2.extract_lane(squares, 0) + f64x2.extract_lane(squares, 1)) / 2;
      power = mean + powerDecay * (power - mean);
      f64.store(values + (at >> 1), power);
    }
    for (let i = 0; i < width; i += 2) {
      const at = values + ((<usize>i) << 3);
      const level = f64x2.mul(f64x2.splat(3.010299956639812), log2(f64x2.pmax(none, v128.load(at))));
      const over = f64x2.sub(level, threshold);
      const into = f64x2.add(over, above);
      const bent = f64x2.div(f64x2.mul(slope, f64x2.mul(into, into)), twice);
      const some = v128.and(f64x2.gt(over, below), bent);
      v128.store(at, v128.bitselect(f64x2.mul(over, slope), some, f64x2.ge(over, above)));
    }
    for (let i = 0; i < width; i++) {
      const at = values + ((<usize>i) << 3);
      const wanted = f64.load(at);
      const decay = wanted > reduction ? attack : release;
      reduction = wanted + decay * (reduction - wanted);
      f64.store(at, (makeup - reduction) * 0.16609640474436813);
    }
    for (let i = 0; i < width; i += 2) {
      const at = (<usize>i) << 3;
      const gain = exp2(v128.load(values + at));
      v128.store(l + at, f64x2.mul(v128.load(l + at), gain));
      v128.store(r + at, f64x2.mul(v128.load(r + at), gain));
    }
  }
  f64.store(state, power);
  f64.store(state, reduction, 8);
}

import { kernels } from '../kernels/kernels.js';

/**
 * Logarithms and powers of 2 that are made of sums and products alone, so that every machine gets the same bits: what JavaScript's own give is
 * left to each JavaScript engine. Both are right to 11 digits.
 */

const scratch = new DataView(new ArrayBuffer(8));

/** Terms of the series of both: see core/kernels/compress.ts, which has the same. */
const LOG_TERMS = [1 / 15, 1 / 13, 1 / 11, 1 / 9, 1 / 7, 1 / 5, 1 / 3, 1] as const;
const EXP_TERMS = [
  ...[1 / 3628800, 1 / 362880, 1 / 40320, 1 / 5040, 1 / 720, 1 / 120, 1 / 24, 1 / 6],
  ...[0.5, 1, 1],
] as const;

const series = (terms: readonly number[], x: number): number => {
  let sum = terms[0] as number;
  for (let i = 1; i < terms.length; i++) sum = sum * x + (terms[i] as number);
  return sum;
};

/** The logarithm of a normal number over 0 to base 2. */
export function log2(x: number): number {
  scratch.setFloat64(0, x);
  const high = scratch.getUint32(0);
  let exponent = (high >>> 20) - 1023;
  scratch.setUint32(0, (high & 0xfffff) | 0x3ff00000);
  let mantissa = scratch.getFloat64(0);
  if (mantissa > Math.SQRT2) {
    mantissa /= 2;
    exponent++;
  }
  const f = (mantissa - 1) / (mantissa + 1);
  return exponent + f * series(LOG_TERMS, f * f) * 2.8853900817779268;
}

/** 2 to a power between −1000 and 1000. */
export function exp2(y: number): number {
  const whole = Math.floor(y + 0.5);
  const power = series(EXP_TERMS, (y - whole) * Math.LN2);
  scratch.setUint32(0, (whole + 1023) << 20);
  scratch.setUint32(4, 0);
  return power * scratch.getFloat64(0);
}

/** Decibels of a power of 2: 10·lg 2. */
export const DB_OF_LOG2 = 3.010299956639812;
/** lg 10 to base 2, by 20: turns decibels of a level into an exponent of 2. */
export const LOG2_OF_DB = 0.16609640474436813;

/** The factor of a level in dB. */
export const gainOfDb = (db: number): number => exp2(db * LOG2_OF_DB);

/** The factors of levels in dB: those of `gainOfDb`, and several at once. */
export function gainsOfDb(levels: Float64Array): Float64Array {
  if (!kernels) return levels.map(gainOfDb);
  kernels.begin();
  const at = kernels.take(8 * levels.length);
  const placed = kernels.doubles(at, levels.length);
  for (let i = 0; i < levels.length; i++) placed[i] = (levels[i] as number) * LOG2_OF_DB;
  kernels.call.exponents(at, levels.length);
  return kernels.doubles(at, levels.length).slice();
}

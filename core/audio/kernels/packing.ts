// AssemblyScript: see core/audio/kernels/README.md. What both rounding and dither end with.

/** Word formats, by the numbers that core/audio/src/pcm/words.ts gives them. */
export const INT16: i32 = 0;
export const INT24: i32 = 1;
export const INT32: i32 = 2;
export const FLOAT32: i32 = 3;

/** Steps from 0 to full scale of words that are whole numbers. */
@inline
export function stepsOf(format: i32): f64 {
  return format == INT16 ? 32768.0 : format == INT24 ? 8388608.0 : 2147483648.0;
}

/** 2^52 and half of it: what is added to it has its whole number in the lower half of the double, negative ones too. */
const WHOLE: f64 = 6755399441055744.0;

/** Four samples in steps, two and two, as whole numbers: rounded down and limited to the range. */
@inline
export function words(first: v128, second: v128, most: v128, least: v128): v128 {
  const whole = f64x2.splat(WHOLE);
  const a = f64x2.add(f64x2.pmax(f64x2.pmin(f64x2.floor(first), most), least), whole);
  const b = f64x2.add(f64x2.pmax(f64x2.pmin(f64x2.floor(second), most), least), whole);
  return v128.shuffle<i32>(a, b, 0, 2, 4, 6);
}

/** Four samples of each channel as interleaved words: from sample `i` on of what lies at `bytes`. Of 24 bits, four bytes beyond are written as well. */
@inline
export function storeWords(l: v128, r: v128, i: i32, format: i32, bytes: usize): void {
  if (format == INT16) {
    const stereo = v128.or(v128.and(l, i32x4.splat(0xffff)), i32x4.shl(r, 16));
    v128.store(bytes + ((<usize>i) << 2), stereo);
    return;
  }
  const a = v128.shuffle<i32>(l, r, 0, 4, 1, 5);
  const b = v128.shuffle<i32>(l, r, 2, 6, 3, 7);
  if (format == INT24) {
    const at = bytes + <usize>i * 6;
    v128.store(at, packed(a));
    v128.store(at, packed(b), 12);
  } else {
    const at = bytes + ((<usize>i) << 3);
    v128.store(at, a);
    v128.store(at, b, 16);
  }
}

/** The lower three bytes of four numbers, side by side. */
@inline
function packed(values: v128): v128 {
  return v128.shuffle<i8>(values, values, 0, 1, 2, 4, 5, 6, 8, 9, 10, 12, 13, 14, 0, 0, 0, 0);
}

/** Decibels → linear factor. 0 dB is exactly 1, so an untouched gain changes no bit. */
export function dbToLinear(db: number): number {
  return 10 ** (db / 20);
}

/** Linear → decibels; −∞ for 0. */
export function linearToDb(linear: number): number {
  return 20 * Math.log10(linear);
}

/**
 * A level or loudness as people read it: `−1.2`, with a real minus sign and never `−0.0`.
 * @param decimals digits after the point
 * @param limit a limit in the same unit: a value over it that would round to it is written with more digits (two more at most),
 *   so that an exceeded limit never reads as the limit
 */
export function decibelText(value: number, decimals = 1, limit?: number): string {
  const rounded = (digits: number): number => Number(value.toFixed(digits));
  const over = limit !== undefined && value > limit;
  let digits = decimals;
  while (over && digits < decimals + 2 && rounded(digits) <= limit) digits++;
  const text = Math.abs(rounded(digits)).toFixed(digits);
  return rounded(digits) < 0 ? `−${text}` : text;
}

/** The correlation of two courses of the same length, −1 to 1; null where one of them does not move. */
export function correlation(x: ArrayLike<number>, y: ArrayLike<number>): number | null {
  const n = x.length;
  let mx = 0;
  let my = 0;
  for (let i = 0; i < n; i++) {
    mx += (x[i] as number) / n;
    my += (y[i] as number) / n;
  }
  let xx = 0;
  let yy = 0;
  let xy = 0;
  for (let i = 0; i < n; i++) {
    const dx = (x[i] as number) - mx;
    const dy = (y[i] as number) - my;
    xx += dx * dx;
    yy += dy * dy;
    xy += dx * dy;
  }
  const scale = Math.sqrt(xx * yy);
  return scale > 1e-12 * n ? xy / scale : null;
}

// AssemblyScript: see core/audio/kernels/README.md. What is done to signals before, and to their bins after, a Fourier transform.

/** Multiplies samples by weights in place; `count` is even. */
export function multiply(audio: usize, weights: usize, count: i32): void {
  for (let i = 0; i < count; i += 2) {
    const at = (<usize>i) << 3;
    v128.store(audio + at, f64x2.mul(v128.load(audio + at), v128.load(weights + at)));
  }
}

/** Half of the power of each pair of bins k and size − k, for k from 1 to size/2 − 1, as doubles at `power`; the first and the last are 0. */
export function powers(re: usize, im: usize, size: i32, power: usize): void {
  const half = size / 2;
  f64.store(power, 0);
  f64.store(power + ((<usize>half) << 3), 0);
  for (let k = 1; k < half; k++) {
    const near = (<usize>k) << 3;
    const far = (<usize>(size - k)) << 3;
    const a = f64.load(re + near);
    const b = f64.load(im + near);
    const c = f64.load(re + far);
    const d = f64.load(im + far);
    f64.store(power + near, (a * a + b * b + c * c + d * d) / 2);
  }
}

/** Sums of runs of doubles that follow each other, from the second double on. @param ends where each run ends, 32-bit numbers */
export function sumRuns(values: usize, ends: usize, runs: i32, sums: usize): void {
  let i = 1;
  for (let run = 0; run < runs; run++) {
    const end = i32.load(ends + ((<usize>run) << 2));
    let sum: f64 = 0;
    for (; i < end; i++) sum += f64.load(values + ((<usize>i) << 3));
    f64.store(sums + ((<usize>run) << 3), sum);
  }
}

/**
 * Lays weighted bins of one transform into those of another, which keeps fewer or more of them: bins 0 to `top` and −1 to −top. What reaches past
 * half of the other's size folds back, and is added there.
 * @param above weights of bins 0 to `top`, with one more; `below`: of bins −top to −1
 */
export function carryBins(
  from: usize,
  size: i32,
  to: usize,
  other: i32,
  top: i32,
  above: usize,
  below: usize,
): void {
  memory.fill(to, 0, (<usize>other) << 3);
  let k = 0;
  for (; k + 2 <= top + 1; k += 2) {
    const at = (<usize>k) << 3;
    v128.store(to + at, f64x2.mul(v128.load(from + at), v128.load(above + at)));
  }
  for (; k <= top; k++) {
    const at = (<usize>k) << 3;
    f64.store(to + at, f64.load(from + at) * f64.load(above + at));
  }
  const source = from + ((<usize>(size - top)) << 3);
  const target = to + ((<usize>(other - top)) << 3);
  k = 0;
  for (; k + 2 <= top; k += 2) {
    const at = (<usize>k) << 3;
    v128.store(
      target + at,
      f64x2.add(v128.load(target + at), f64x2.mul(v128.load(source + at), v128.load(below + at))),
    );
  }
  for (; k < top; k++) {
    const at = (<usize>k) << 3;
    f64.store(target + at, f64.load(target + at) + f64.load(source + at) * f64.load(below + at));
  }
}

/** Whether two signals are the same, sample for sample. */
export function alike(a: usize, b: usize, count: i32): bool {
  let i = 0;
  for (; i + 2 <= count; i += 2) {
    const at = (<usize>i) << 3;
    if (!i64x2.all_true(f64x2.eq(v128.load(a + at), v128.load(b + at)))) return false;
  }
  return i == count || f64.load(a + ((<usize>i) << 3)) == f64.load(b + ((<usize>i) << 3));
}

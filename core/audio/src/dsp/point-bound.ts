/**
 * How far a point between two samples can lie off the straight line between them, of weights whose sum is 1: no higher than `slope` times the
 * higher of its neighbours, and `bending` times the sharpest second difference of the samples that it is made of. With e the weights less those
 * of the line, whose sum is 0, summing by parts twice gives Σ e·x = −m·Δ + Σ s·Δ², where Δ is the step between the neighbours (at most twice
 * the higher of them), m the sum of e’s running sums, and s the running sums of those, less m from the neighbours on.
 * @param weights an even number; the neighbours are the two in the middle
 * @param fraction where the point lies between them, 0 to 1
 */
export function boundOf(weights: Float64Array, fraction: number): { slope: number; bending: number } {
  const half = weights.length / 2;
  const off = weights.slice();
  off[half - 1] = (off[half - 1] as number) - (1 - fraction);
  off[half] = (off[half] as number) - fraction;
  const steps = runningSums(off);
  const m = steps.reduce((sum, step) => sum + step, 0);
  steps[half - 1] = (steps[half - 1] as number) - m;
  const bends = runningSums(steps);
  return { slope: 1 + 2 * Math.abs(m), bending: bends.reduce((sum, value) => sum + Math.abs(value), 0) };
}

function runningSums(values: Float64Array): Float64Array {
  let sum = 0;
  return values.map((value) => (sum += value));
}

import { boundOf } from '../dsp/point-bound.js';

/** Points at which the true peak is looked for between two samples, and weights on each side of one. */
const POINTS = 8;
/** Samples on each side of the stretch between two samples that a point is made of. */
export const SIDE = 16;
const TAPS = 2 * SIDE;

/** Weights of a windowed sinc for a point so many eighths of the way between two samples; they add up to 1. The window does not fall to zero, so it keeps more of the highest frequencies. */
function weightsOf(eighths: number): Float64Array {
  const raw = Float64Array.from({ length: TAPS }, (_, tap) => {
    const x = eighths / POINTS + SIDE - 1 - tap;
    const window = 0.6 + 0.4 * Math.cos((Math.PI * x) / SIDE);
    return (Math.sin(Math.PI * x) / (Math.PI * x)) * window;
  });
  const sum = raw.reduce((all, weight) => all + weight, 0);
  return raw.map((weight) => weight / sum);
}
const WEIGHTS = new Map([1, 2, 3, 4, 5, 6, 7].map((eighths) => [eighths, weightsOf(eighths)]));

/**
 * Seven rows of 16 weights. The points at 1/8 and 7/8 (2/8 and 6/8, 3/8 and 5/8) have the same weights the other way round: one is the sum, the
 * other the difference of what the sums and the differences of samples that lie alike on both sides make. Rows of sums come first, the fourth
 * of them for the point in the middle, then three rows of differences.
 */
export const PEAK_TABLE = Float32Array.from(
  [
    ...[1, 2, 3, 4].map((eighths) => ({ eighths, sign: 1 })),
    ...[1, 2, 3].map((eighths) => ({ eighths, sign: -1 })),
  ].flatMap(({ eighths, sign }) => {
    const weights = WEIGHTS.get(eighths) ?? new Float64Array(TAPS);
    return Array.from(
      { length: SIDE },
      (_, tap) => ((weights[tap] as number) + sign * (weights[TAPS - 1 - tap] as number)) / 2,
    );
  }),
);

/** How high any of the points can lie. */
const BOUNDS = [...WEIGHTS].map(([eighths, weights]) => boundOf(weights, eighths / POINTS));
export const SLOPE = Math.max(...BOUNDS.map(({ slope }) => slope));
export const BENDING = Math.max(...BOUNDS.map(({ bending }) => bending));

/**
 * Raises each value of `into` to the highest magnitude of a sample and of the seven points up to the next one, in single precision: the reference
 * in plain TypeScript, with the same sums in the same order as the kernel, which passes over what is not high enough to count.
 * @param audio 15 samples more before the first and 17 after the last
 */
export function raiseToPeaksReference(audio: Float64Array, into: Float64Array): void {
  const { fround } = Math;
  const [sums, differences] = [new Float32Array(SIDE), new Float32Array(SIDE)];
  const row = (values: Float32Array, which: number): number => {
    let value = 0;
    for (let tap = 0; tap < SIDE; tap++)
      value = fround(value + fround((PEAK_TABLE[which * SIDE + tap] as number) * (values[tap] as number)));
    return Math.abs(value);
  };
  const narrowed = Float32Array.from(audio);
  for (let i = 0; i < into.length; i++) {
    for (let tap = 0; tap < SIDE; tap++) {
      const [near, far] = [narrowed[i + tap] as number, narrowed[i + TAPS - 1 - tap] as number];
      sums[tap] = near + far;
      differences[tap] = near - far;
    }
    // Of a sum and a difference the larger magnitude is that of both magnitudes together.
    const points = [0, 1, 2].map((which) => fround(row(sums, which) + row(differences, 4 + which)));
    const sample = Math.abs(narrowed[i + SIDE - 1] as number);
    into[i] = Math.max(into[i] as number, sample, row(sums, 3), ...points);
  }
}

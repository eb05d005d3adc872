import type { Biquad } from '../dsp/biquad.js';

/** Coefficients of sections that follow each other, five numbers each: b0, b1, b2, a1, a2. */
export function coefficientsOf(sections: readonly Biquad[]): Float64Array {
  return Float64Array.from(sections.flatMap(({ b0, b1, b2, a1, a2 }) => [b0, b1, b2, a1, a2]));
}

/** Numbers of memory that one channel of so many coefficients has. */
export const memoryOf = (coefficients: { readonly length: number }): number => (2 * coefficients.length) / 5;

/**
 * Runs audio through sections that do not change, in place (transposed direct form II).
 * @param memory two numbers for each section, kept from one call to the next
 */
export function runSections(audio: Float64Array, coefficients: Float64Array, memory: Float64Array): void {
  for (let section = 0; section < coefficients.length / 5; section++) {
    const at = 5 * section;
    const [b0, b1, b2, a1, a2] = coefficients.subarray(at, at + 5) as unknown as [
      number,
      number,
      number,
      number,
      number,
    ];
    let first = memory[2 * section] as number;
    let second = memory[2 * section + 1] as number;
    for (let i = 0; i < audio.length; i++) {
      const x = audio[i] as number;
      const y = b0 * x + first;
      first = b1 * x - a1 * y + second;
      second = b2 * x - a2 * y;
      audio[i] = y;
    }
    memory[2 * section] = first;
    memory[2 * section + 1] = second;
  }
}

/** One sample through sections whose coefficients may be others with each sample. */
export function stepSections(sample: number, coefficients: Float64Array, memory: Float64Array): number {
  let x = sample;
  for (let section = 0; section < coefficients.length / 5; section++) {
    const at = 5 * section;
    const y = (coefficients[at] as number) * x + (memory[2 * section] as number);
    memory[2 * section] =
      (coefficients[at + 1] as number) * x -
      (coefficients[at + 3] as number) * y +
      (memory[2 * section + 1] as number);
    memory[2 * section + 1] = (coefficients[at + 2] as number) * x - (coefficients[at + 4] as number) * y;
    x = y;
  }
  return x;
}

/** What is left in a memory that nobody could hear is taken for nothing. */
export function tidyMemory(memory: Float64Array): void {
  for (let i = 0; i < memory.length; i++) if (Math.abs(memory[i] as number) < 1e-30) memory[i] = 0;
}

/** How far from the origin the outermost pole of some sections lies; under 1. */
export function outermostPole(coefficients: Float64Array): number {
  let outermost = 0;
  for (let at = 0; at < coefficients.length; at += 5) {
    const [a1, a2] = [coefficients[at + 3] as number, coefficients[at + 4] as number];
    const root = a1 * a1 - 4 * a2;
    outermost = Math.max(outermost, root < 0 ? Math.sqrt(a2) : (Math.abs(a1) + Math.sqrt(root)) / 2);
  }
  return outermost;
}

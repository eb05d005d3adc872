import type { Biquad } from '../dsp/biquad.js';
import { kernels } from '../kernels/kernels.js';
import type { Block } from '../pcm/block.js';

/** Coefficients of sections that follow each other, five numbers each: b0, b1, b2, a1, a2. */
export function coefficientsOf(sections: readonly Biquad[]): Float64Array {
  return Float64Array.from(sections.flatMap(({ b0, b1, b2, a1, a2 }) => [b0, b1, b2, a1, a2]));
}

/** Memory at rest for so many coefficients: for each section two numbers, left and right of each. */
export const memoryOf = (coefficients: { readonly length: number }): Float64Array =>
  new Float64Array((4 * coefficients.length) / 5);

/**
 * Runs audio through sections that do not change, in place (transposed direct form II).
 * @param memory kept from one call to the next
 */
export function runSections(block: Block, coefficients: Float64Array, memory: Float64Array): void {
  if (!kernels) {
    runSectionsReference(block, coefficients, memory);
    return;
  }
  kernels.begin();
  const audio = kernels.place(block);
  const [numbers, kept] = [kernels.take(8 * coefficients.length), kernels.take(8 * memory.length)];
  kernels.doubles(numbers, coefficients.length).set(coefficients);
  kernels.doubles(kept, memory.length).set(memory);
  kernels.call.sections(audio.left, audio.right, audio.length, numbers, coefficients.length / 5, kept);
  block.left.set(kernels.doubles(audio.left, audio.length));
  block.right.set(kernels.doubles(audio.right, audio.length));
  memory.set(kernels.doubles(kept, memory.length));
}

/** The reference in plain TypeScript: the same sums in the same order as the kernel. */
export function runSectionsReference(
  { left, right }: Block,
  coefficients: Float64Array,
  memory: Float64Array,
): void {
  for (let i = 0; i < left.length; i++) stepSections(left, right, i, coefficients, memory);
}

/** One sample of both channels through sections whose coefficients may be others with each sample, in place. */
export function stepSections(
  left: Float64Array,
  right: Float64Array,
  i: number,
  coefficients: Float64Array,
  memory: Float64Array,
): void {
  for (let section = 0; section < coefficients.length / 5; section++) {
    const at = 5 * section;
    const b0 = coefficients[at] as number;
    const b1 = coefficients[at + 1] as number;
    const b2 = coefficients[at + 2] as number;
    const a1 = coefficients[at + 3] as number;
    const a2 = coefficients[at + 4] as number;
    for (let side = 0; side < 2; side++) {
      const audio = side === 0 ? left : right;
      const kept = 4 * section + side;
      const x = audio[i] as number;
      const y = b0 * x + (memory[kept] as number);
      memory[kept] = b1 * x + (memory[kept + 2] as number) - a1 * y;
      memory[kept + 2] = b2 * x - a2 * y;
      audio[i] = y;
    }
  }
}

/** An inaudible rest of the state is treated as zero. */
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

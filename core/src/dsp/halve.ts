import type { Kernels, Placed } from '../kernels/kernels.js';
import { CHANNELS, type Block } from '../pcm/block.js';

/** A half-band low-pass of 4·K − 1 taps: all even ones but the middle are 0, and the odd ones are alike on both sides. */
export interface HalfBand {
  readonly centre: number;
  /** The K odd taps, from the middle outwards; K is even. */
  readonly odd: Float64Array;
}

/** Input samples that `count` outputs need: from twice the number of odd taps before the one under the first output on. */
export const halveNeeds = ({ odd }: HalfBand, count: number): number => 2 * (count + 2 * odd.length);

/** Filters and takes every second sample, in the memory of the kernels. */
export function halvePlaced(machine: Kernels, filter: HalfBand, count: number, input: Placed): Placed {
  const taps = filter.odd.length;
  const table = machine.table(filter.odd);
  const half = input.length / 2;
  const even = machine.take(8 * half);
  const odd = machine.take(8 * half);
  const to = machine.room(count);
  for (const channel of CHANNELS) {
    machine.call.part(input[channel], half, even, odd);
    machine.call.halve(table, taps, filter.centre, count, even + 8 * taps, odd + 8 * taps, to[channel]);
  }
  return to;
}

/** The reference in plain TypeScript: the same sums in the same order as the kernel. */
export function halveReference(filter: HalfBand, count: number, { left, right }: Block): Block {
  const channel = (input: Float64Array): Float64Array =>
    Float64Array.from({ length: count }, (_, i) => {
      const middle = 2 * (filter.odd.length + i);
      return filter.odd.reduce(
        (sum, weight, k) => {
          const [before, after] = [middle - (2 * k + 1), middle + (2 * k + 1)];
          return sum + weight * ((input[before] as number) + (input[after] as number));
        },
        filter.centre * (input[middle] as number),
      );
    });
  return { left: channel(left), right: channel(right) };
}

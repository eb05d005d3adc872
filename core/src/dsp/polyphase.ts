import type { Kernels, Placed } from '../kernels/kernels.js';
import type { Block } from '../pcm/block.js';

/** Rows of weights for each phase of a polyphase filter; `taps` is a multiple of 8. */
export interface Rows {
  readonly up: number;
  readonly down: number;
  readonly taps: number;
  readonly table: Float64Array;
}

/** One output sample after the other, from the one whose first tap lies on the input’s first sample. */
export interface Walk {
  /** Row of the first output sample. */
  readonly phase: number;
  readonly count: number;
}

/** Polyphase resampling in the memory of the kernels; the input reaches at least as far as the last output’s taps. */
export function resamplePlaced(machine: Kernels, rows: Rows, { phase, count }: Walk, input: Placed): Placed {
  const { up, down, taps } = rows;
  const table = machine.table(rows.table);
  const to = machine.room(count);
  machine.call.resample(table, taps, up, down, phase, count, input.left, input.right, to.left, to.right);
  return to;
}

/** Taps whose products are summed apart, as SIMD does it. */
const LANES = 8;

/** The reference in plain TypeScript: the same sums in the same order as the kernel. */
export function resampleReference({ up, down, taps, table }: Rows, walk: Walk, input: Block): Block {
  const left = new Float64Array(walk.count);
  const right = new Float64Array(walk.count);
  let at = 0;
  let { phase } = walk;
  for (let i = 0; i < walk.count; i++) {
    left[i] = rowSum(table, phase * taps, taps, input.left, at);
    right[i] = rowSum(table, phase * taps, taps, input.right, at);
    phase += down;
    at += Math.floor(phase / up);
    phase %= up;
  }
  return { left, right };
}

function rowSum(table: Float64Array, row: number, taps: number, input: Float64Array, at: number): number {
  const sums = new Float64Array(LANES);
  for (let t = 0; t < taps; t++)
    sums[t % LANES] = (sums[t % LANES] as number) + (table[row + t] as number) * (input[at + t] as number);
  const [s0, s1, s2, s3, s4, s5, s6, s7] = sums as unknown as number[];
  const even = (s0 as number) + (s2 as number) + ((s4 as number) + (s6 as number));
  const odd = (s1 as number) + (s3 as number) + ((s5 as number) + (s7 as number));
  return even + odd;
}

import type { Block, PcmSource } from '../pcm/block.js';

/**
 * The sample nearest to `at` before which the middle of both channels passes zero, so that a cut there makes no step; `at`
 * itself where none lies within `reach` samples.
 * @returns a position in [0, length]
 */
export async function nearestZeroCrossing(source: PcmSource, at: number, reach: number): Promise<number> {
  const from = Math.max(1, at - reach);
  const to = Math.min(source.length, at + reach + 1);
  const block = await source.read(from - 1, to - from + 1);
  return zeroCrossingIn(block, from - 1, at, reach);
}

/**
 * The same among samples that are at hand.
 * @param first place in the source of the block's first sample
 */
export function zeroCrossingIn({ left, right }: Block, first: number, at: number, reach: number): number {
  const from = Math.max(first + 1, at - reach);
  const to = Math.min(first + left.length, at + reach + 1);
  const middle = (i: number): number => (left[i] as number) + (right[i] as number);
  let best = at;
  let distance = Infinity;
  for (let position = from; position < to; position++) {
    const before = middle(position - first - 1);
    const after = middle(position - first);
    const crosses = after === 0 || before < 0 !== after < 0;
    if (!crosses || Math.abs(position - at) >= distance) continue;
    best = position;
    distance = Math.abs(position - at);
  }
  return best;
}

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { firstDifference, source, words16 } from '../testing.js';
import type { PcmSource } from '../pcm/block.js';
import { joined, SlidingInput } from './sliding-input.js';

/** A source that notes which samples it was asked for. */
function watched(): { input: PcmSource; asked: [number, number][] } {
  const inner = source(44_100, 1, words16);
  const asked: [number, number][] = [];
  const read = (start: number, count: number) => {
    asked.push([start, count]);
    return inner.read(start, count);
  };
  return { input: { rate: inner.rate, length: inner.length, format: inner.format, read }, asked };
}

describe('the input of a filter', () => {
  it('is read once where stretches overlap', async () => {
    const { input, asked } = watched();
    const sliding = new SlidingInput(input, 24);
    for (const start of [-12, 88, 188]) await sliding.read(start, 124, joined);
    // Each stretch begins 24 samples before the end of the one before.
    expect(asked).toEqual([
      [-12, 124],
      [112, 100],
      [212, 100],
    ]);
  });

  it('is read anew after a jump, and where more is wanted back than was kept', async () => {
    const { input, asked } = watched();
    const sliding = new SlidingInput(input, 24);
    for (const start of [0, 5000, 5050, 100]) await sliding.read(start, 100, joined);
    expect(asked).toEqual([
      [0, 100],
      [5000, 100],
      [5050, 100],
      [100, 100],
    ]);
  });

  it('is what the source holds, whatever stretches are asked for', async () => {
    const step = fc.record({
      by: fc.integer({ min: -60, max: 200 }),
      count: fc.integer({ min: 1, max: 150 }),
    });
    await fc.assert(
      fc.asyncProperty(
        fc.array(step, { maxLength: 20 }),
        fc.integer({ min: 1, max: 40 }),
        async (steps, keep) => {
          const { input } = watched();
          const sliding = new SlidingInput(input, keep);
          let start = 0;
          for (const { by, count } of steps) {
            start += by;
            const found = await sliding.read(start, count, joined);
            const wanted = await input.read(start, count);
            expect(firstDifference(found.left, wanted.left)).toBe(-1);
            expect(firstDifference(found.right, wanted.right)).toBe(-1);
          }
        },
      ),
    );
  });
});

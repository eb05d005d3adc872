import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inOrder } from './in-order.js';
import { Turns } from './side-by-side.js';

/** Resolves after some turns of the event loop. */
const after = async (turns: number): Promise<void> => {
  for (let i = 0; i < turns; i++) await new Promise((resolve) => setTimeout(resolve));
};

describe('work in order', () => {
  it('gives every result once, in the order of the items, with no more under way than there may be', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.nat(4), { maxLength: 20 }),
        fc.integer({ min: 1, max: 6 }),
        async (turns, width) => {
          let [underWay, most] = [0, 0];
          const found: number[] = [];
          const results = inOrder(
            turns.entries(),
            () => width,
            async ([i, wait]) => {
              most = Math.max(most, ++underWay);
              await after(wait);
              underWay--;
              return i;
            },
          );
          for await (const result of results) found.push(result);
          expect(found).toEqual([...turns.keys()]);
          expect(most).toBeLessThanOrEqual(width);
        },
      ),
      { numRuns: 30 },
    );
  });

  it('leaves nothing under way when somebody leaves early, and begins nothing that nobody asks for', async () => {
    const begun: number[] = [];
    const ended: number[] = [];
    const results = inOrder(
      [0, 1, 2, 3, 4, 5, 6],
      () => 3,
      async (i) => {
        begun.push(i);
        await after(2);
        ended.push(i);
        return i;
      },
    );
    for await (const result of results) if (result === 1) break;
    expect(begun).toEqual([0, 1, 2, 3]);
    expect(ended).toEqual([0, 1, 2, 3]);
  });

  it('throws what fails in its place, once everything has ended', async () => {
    const ended: number[] = [];
    const results = inOrder(
      [0, 1, 2, 3],
      () => 4,
      async (i) => {
        await after(3 - i);
        ended.push(i);
        if (i === 1) throw new Error('one');
        return i;
      },
    );
    const found: number[] = [];
    const all = async (): Promise<void> => {
      for await (const result of results) found.push(result);
    };
    await expect(all()).rejects.toThrow('one');
    expect(found).toEqual([0]);
    expect(ended.sort()).toEqual([0, 1, 2, 3]);
  });
});

it('turns let so many in at a time, as they come, also after one has failed', async () => {
  const turns = new Turns(2);
  let underWay = 0;
  const order: number[] = [];
  const work = (i: number) =>
    turns.take(async () => {
      order.push(i);
      expect(++underWay).toBeLessThanOrEqual(2);
      await after(i % 2);
      underWay--;
      if (i === 1) throw new Error('one');
      return i;
    });
  const ends = await Promise.allSettled([0, 1, 2, 3, 4].map(work));
  expect(order).toEqual([0, 1, 2, 3, 4]);
  expect(ends.map(({ status }) => status)).toEqual([
    'fulfilled',
    'rejected',
    'fulfilled',
    'fulfilled',
    'fulfilled',
  ]);
});

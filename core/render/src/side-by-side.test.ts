import { expect, it } from 'vitest';
import { sideBySide } from './side-by-side.js';

const turn = (turns: number): Promise<void> =>
  turns === 0 ? Promise.resolve() : Promise.resolve().then(() => turn(turns - 1));

it('keeps the order of the items and never has more than so many under way', async () => {
  let now = 0;
  let most = 0;
  const results = await sideBySide([5, 1, 4, 0, 3], 2, async (turns, index) => {
    most = Math.max(most, ++now);
    await turn(turns * 3);
    now--;
    return `${index}: ${turns}`;
  });
  expect(results).toEqual(['0: 5', '1: 1', '2: 4', '3: 0', '4: 3']);
  expect(most).toBe(2);
});

it('begins nothing after a failure and waits for what was begun', async () => {
  const begun: number[] = [];
  const ended: number[] = [];
  const all = sideBySide([0, 1, 2, 3], 2, async (item) => {
    begun.push(item);
    if (item === 0) throw new Error('a full disk');
    await turn(20);
    ended.push(item);
  });
  await expect(all).rejects.toThrow('a full disk');
  expect(begun).toEqual([0, 1]);
  expect(ended).toEqual([1]);
});

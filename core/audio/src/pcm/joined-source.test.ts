import { expect, it } from 'vitest';
import type { PcmSource, WordFormat } from './block.js';
import { JoinedSource } from './joined-source.js';

const counting = (from: number, length: number, format: WordFormat = 'int16', rate = 44_100): PcmSource => ({
  ...{ rate, length, format },
  read: (start, count) => {
    const left = Float64Array.from({ length: count }, (_, i) => from + start + i);
    return Promise.resolve({ left, right: left.map((value) => -value) });
  },
});

it('sources one after the other are read as one, across their seams and beyond the end', async () => {
  const joined = new JoinedSource([counting(0, 3), counting(3, 1), counting(4, 4, 'int24')]);
  expect([joined.length, joined.format]).toEqual([8, 'int24']);
  const { left, right } = await joined.read(2, 8);
  expect([...left]).toEqual([2, 3, 4, 5, 6, 7, 0, 0]);
  expect([...right].slice(0, 2)).toEqual([-2, -3]);
});

it('the word is wide enough for all, and rates must be one', () => {
  expect(new JoinedSource([counting(0, 1, 'int32'), counting(0, 1, 'float32')]).format).toBe('float64');
  expect(new JoinedSource([counting(0, 1, 'int24'), counting(0, 1, 'float32')]).format).toBe('float32');
  expect(() => new JoinedSource([counting(0, 1), counting(0, 1, 'int16', 48_000)])).toThrow(RangeError);
});

import fc from 'fast-check';
import { expect, it } from 'vitest';
import { silence, type PcmSource } from '../pcm/block.js';
import { quietRuns } from './quiet-runs.js';
import { atRate } from './resample.js';

it('runs of zeros are found from a length on, wherever they lie', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 1, max: 9 }), fc.boolean()), { maxLength: 30 }),
      fc.integer({ min: 1, max: 12 }),
      (pieces, least) => {
        const audio = Float64Array.from(
          pieces.flatMap(([length, sounds]) => Array.from({ length }, () => (sounds ? 1 : 0))),
        );
        const wanted: [number, number][] = [];
        for (let at = 0; at < audio.length; at++) {
          let end = at;
          while (audio[end] === 0) end++;
          if (end - at >= least) wanted.push([at, end]);
          at = end;
        }
        expect(quietRuns(audio, least)).toEqual(wanted);
      },
    ),
  );
});

/** One stretch of noise in each channel, between silence. */
const burst: PcmSource = {
  ...{ rate: 96_000, length: 96_000, format: 'float64' },
  read: (start, count) => {
    const block = silence(count);
    for (let i = 0; i < count; i++) {
      if (start + i >= 30_000 && start + i < 31_000) block.left[i] = Math.sin((start + i) ** 2);
      if (start + i >= 50_000 && start + i < 50_010) block.right[i] = 0.5;
    }
    return Promise.resolve(block);
  },
};

it('what is converted is digital silence where nothing sounds within reach of the filter', async () => {
  const { left, right } = await atRate(burst, 44_100).read(0, 44_100);
  // The filter reaches 142.05/(2.285·2π·4.1/96)/2 + 1 samples of 96 kHz to each side: 119, 55 of 44.1 kHz.
  const edges = (audio: Float64Array): [number, number] => [
    audio.findIndex((value) => value !== 0),
    audio.findLastIndex((value) => value !== 0),
  ];
  const [l, r] = [edges(left), edges(right)];
  const at = (n: number): number => (n * 44_100) / 96_000;
  for (const [[from, to], start, end] of [
    [l, 30_000, 31_000],
    [r, 50_000, 50_010],
  ] as const) {
    expect(from).toBeGreaterThanOrEqual(at(start) - 55);
    expect(from).toBeLessThan(at(start));
    expect(to).toBeLessThanOrEqual(at(end) + 55);
    expect(to).toBeGreaterThan(at(end) - 1);
  }
});

it('two channels that are one stay one', async () => {
  const mono: PcmSource = {
    ...burst,
    read: async (start, count) => {
      const { left } = await burst.read(start, count);
      return { left, right: left.slice() };
    },
  };
  const { left, right } = await atRate(mono, 44_100).read(13_000, 2000);
  expect(right).toEqual(left);
});

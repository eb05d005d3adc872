import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Block } from '../pcm/block.js';
import { firstDifference } from '../testing.js';
import { DITHER_KINDS, shortenReference } from './dither.js';
import { kernels, resampleReference, type Rows } from './kernels.js';

describe('the kernels', () => {
  it('run on this machine', () => expect(kernels).not.toBeNull());

  it('resample to the same bits as the reference, whatever is asked of them', () => {
    const value = (n: number): number => Math.sin(n * n * 0.37) * 10 ** ((n % 9) - 4);
    fc.assert(
      fc.property(
        fc.record({
          up: fc.integer({ min: 1, max: 20 }),
          down: fc.integer({ min: 1, max: 40 }),
          eighths: fc.integer({ min: 1, max: 6 }),
          count: fc.integer({ min: 0, max: 60 }),
          start: fc.nat(1000),
        }),
        ({ up, down, eighths, count, start }) => {
          const taps = 8 * eighths;
          const rows: Rows = {
            up,
            down,
            taps,
            table: Float64Array.from({ length: up * taps }, (_, n) => value(n)),
          };
          const phase = start % up;
          const length = Math.floor((phase + Math.max(0, count - 1) * down) / up) + taps;
          const left = Float64Array.from({ length }, (_, n) => value(n + 7));
          const input = { left, right: left.map((each) => -0.3 * each) };
          const walk = { phase, at: 0, count };
          const wanted = resampleReference(rows, walk, input);
          const found = kernels?.resample(rows, walk, input);
          expect(firstDifference(found?.left ?? [], wanted.left)).toBe(-1);
          expect(firstDifference(found?.right ?? [], wanted.right)).toBe(-1);
        },
      ),
    );
  });

  it('resample and measure one after the other without treading on each other', () => {
    // Tables stay in the memory for good, everything else is given up: a second table must not lie where scratch did.
    const rows = (seed: number): Rows => ({
      ...{ up: 2, down: 3, taps: 8 },
      table: Float64Array.from({ length: 16 }, (_, n) => Math.cos(n * seed)),
    });
    const input = { left: new Float64Array(64).fill(0.5), right: new Float64Array(64).fill(-0.25) };
    const walk = { phase: 1, at: 0, count: 30 };
    const [one, two] = [rows(1), rows(2)];
    const wanted = [one, two, one].map((each) => resampleReference(each, walk, input).left);
    const found = [one, two, one].map((each) => kernels?.resample(each, walk, input).left);
    expect(found).toEqual(wanted);
  });

  it('shorten to the same words as the reference, with the same errors carried on', () => {
    const run = fc.record({ length: fc.nat(40), dithered: fc.boolean(), forget: fc.boolean() });
    fc.assert(
      fc.property(
        fc.constantFrom(...DITHER_KINDS),
        fc.constantFrom(16, 24),
        fc.integer({ min: 0, max: 2 ** 40 }),
        fc.array(run, { maxLength: 6 }),
        fc.double({ min: 0, max: 3, noNaN: true }),
        (kind, bits, start, pieces, level) => {
          let from = 0;
          const runs = pieces.map(({ length, ...how }) => ({ ...how, from, to: (from += length) }));
          const audio = (): Float64Array =>
            Float64Array.from({ length: from + 3 }, (_, n) => level * Math.sin(n * 1.7 + start));
          const order = () => ({
            ...{ kind, start, runs, seed: { a: 12_345, b: -678 }, scale: 2 ** (bits - 1) },
            errors: new Float64Array(10).fill(0.25),
          });
          const [wanted, found] = [order(), order()];
          const blocks = [wanted, found].map(() => ({ left: audio(), right: audio().map((v) => -v / 3) }));
          const [one, two] = blocks as [Block, Block];
          shortenReference(one, wanted);
          kernels?.shorten(two, found);
          expect(firstDifference(two.left, one.left)).toBe(-1);
          expect(firstDifference(two.right, one.right)).toBe(-1);
          expect(found.errors).toEqual(wanted.errors);
        },
      ),
    );
  });
});

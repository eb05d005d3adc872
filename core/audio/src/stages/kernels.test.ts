import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { firstDifference } from '../testing.js';
import { exp2, gainOfDb, gainsOfDb, log2 } from '../dsp/exponent.js';
import type { Block } from '../pcm/block.js';
import { memoryOf, runSections, runSectionsReference } from './biquads.js';
import {
  type Compressor,
  compressorDesign,
  compressorMemory,
  runCompressor,
  runCompressorReference,
} from './compressor.js';
import {
  NEEDS_AFTER,
  NEEDS_BEFORE,
  needsIn,
  needsReference,
  smoothed,
  smoothedReference,
  takeAway,
  takeAwayReference,
} from './limiting.js';

const audioOf = (length: number, seed: number, level = 1): Float64Array =>
  Float64Array.from({ length }, (_, n) => level * Math.sin((n + seed) * (n + 3) * 0.013));
const copyOf = ({ left, right }: Block): Block => ({ left: left.slice(), right: right.slice() });

const expectSame = (found: ArrayLike<number>, wanted: ArrayLike<number>): void =>
  expect(firstDifference(found, wanted)).toBe(-1);

/** Runs twice, so that what is kept from the first block counts in the second. */
function expectSameRuns(
  blocks: readonly Block[],
  memory: Float64Array,
  run: (block: Block, memory: Float64Array) => void,
  reference: (block: Block, memory: Float64Array) => void,
): void {
  const wantedMemory = memory.slice();
  for (const block of blocks) {
    const wanted = copyOf(block);
    run(block, memory);
    reference(wanted, wantedMemory);
    expectSame(block.left, wanted.left);
    expectSame(block.right, wanted.right);
    expectSame(memory, wantedMemory);
  }
}

const blocksOf = (first: number, second: number, seed: number): Block[] =>
  [first, second].map((length, i) => ({
    left: audioOf(length, seed + i),
    right: audioOf(length, seed + 7 * i + 3, 0.3),
  }));

describe('the kernels of treatments give the same bits as the references', () => {
  it('of any number of sections', () => {
    const lengths = fc.nat(300);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 8 }), lengths, lengths, fc.nat(999), (count, a, b, seed) => {
        const numbers = Float64Array.from(
          Array.from({ length: count }, (_, i) => [0.9 + i / 50, -0.4, 0.2, -0.5 + i / 20, 0.3]).flat(),
        );
        expectSameRuns(
          blocksOf(a, b, seed),
          memoryOf(numbers),
          (block, memory) => runSections(block, numbers, memory),
          (block, memory) => runSectionsReference(block, numbers, memory),
        );
      }),
    );
  });

  it('of the compressor, with and without a knee', () => {
    const settings = fc.record<Compressor>({
      threshold: fc.double({ min: -60, max: 0, noNaN: true }),
      ratio: fc.double({ min: 1, max: 20, noNaN: true }),
      attack: fc.double({ min: 0.1, max: 500, noNaN: true }),
      release: fc.double({ min: 1, max: 5000, noNaN: true }),
      knee: fc.constantFrom(0, 6, 24),
      makeup: fc.double({ min: -24, max: 24, noNaN: true }),
    });
    const lengths = fc.nat(1300);
    fc.assert(
      fc.property(settings, lengths, lengths, fc.nat(999), (given, a, b, seed) => {
        const design = compressorDesign(given, 48_000);
        expectSameRuns(
          blocksOf(a, b, seed),
          compressorMemory(design),
          (block, memory) => runCompressor(block, design, memory),
          (block, memory) => runCompressorReference(block, design, memory),
        );
      }),
      { numRuns: 60 },
    );
  });

  it('of what a limiter needs, holds and takes away', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 90 }),
        fc.integer({ min: 1, max: 40 }),
        fc.nat(999),
        fc.double({ min: 0.05, max: 1.2, noNaN: true }),
        (count, ahead, seed, most) => {
          const around = audioOf(count + NEEDS_BEFORE + NEEDS_AFTER, seed);
          const audio = { left: around, right: around.map((x) => -0.7 * x) };
          expectSame(needsIn(audio, count, most, 0.9 * most), needsReference(audio, count, most, 0.9 * most));
          const held = audioOf(count + 2 * ahead, seed, 9).map((x) => Math.max(0, seed % 7 === 0 ? 0 : x));
          const reductions = smoothed(held.slice(), count, ahead);
          expectSame(reductions ?? [], smoothedReference(held, count, ahead) ?? []);
          if (!reductions) return;
          const [block] = blocksOf(count, 0, seed) as [Block];
          const [found, wanted] = [copyOf(block), copyOf(block)];
          takeAway(found, reductions, most);
          takeAwayReference(wanted, reductions, most);
          expectSame(found.left, wanted.left);
          expectSame(found.right, wanted.right);
        },
      ),
    );
  });

  it('of levels', () => {
    const levels = audioOf(1001, 5, 90);
    expectSame(gainsOfDb(levels), levels.map(gainOfDb));
  });
});

describe('our own logarithm and power of 2', () => {
  it('are right to eleven digits', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-300, max: 1e300, noNaN: true }), (x) => {
        expect(Math.abs(log2(x) - Math.log2(x))).toBeLessThan(2e-11 * Math.max(1, Math.abs(Math.log2(x))));
      }),
    );
    fc.assert(
      fc.property(fc.double({ min: -900, max: 900, noNaN: true }), (y) => {
        expect(Math.abs(exp2(y) / 2 ** y - 1)).toBeLessThan(2e-11);
      }),
    );
    expect([exp2(0), exp2(1), exp2(-3), log2(1), log2(8)]).toEqual([1, 2, 0.125, 0, 3]);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DITHER_KINDS } from '../dsp/dither.js';
import { halveNeeds, halvePlaced, halveReference } from '../dsp/halve.js';
import { resamplePlaced, resampleReference, type Rows } from '../dsp/polyphase.js';
import { shortenedWords, shortenedWordsReference } from '../dsp/shorten.js';
import { Fft } from '../measure/fft.js';
import { KWeightedPower } from '../measure/k-weighting.js';
import { SignalMeter, statisticsReference } from '../measure/signal.js';
import { pointsFor, scanPlaced, scanReference } from '../measure/true-peak.js';
import { WORD_BYTES, type Block, type WordFormat } from '../pcm/block.js';
import { decodeReference, decodeWords, encodeReference, encodeWords } from '../pcm/words.js';
import { NullTest } from '../render/null-test.js';
import { firstDifference } from '../testing.js';
import { kernels, type Kernels, type Placed } from './kernels.js';

const machine = kernels as Kernels;

/** Values of very different size, so that sums in another order would show. */
const value = (n: number): number => Math.sin(n * n * 0.37) * 10 ** ((n % 9) - 4);
const table = (length: number, seed = 0): Float64Array =>
  Float64Array.from({ length }, (_, n) => value(n + seed));

/** Audio of a length, and of a level. */
const blocks = (most: number, level = 1.2) =>
  fc.record({ length: fc.integer({ min: 0, max: most }), seed: fc.nat(1000) }).map(({ length, seed }) => ({
    left: Float64Array.from({ length }, (_, n) => level * Math.sin((n + seed) * 1.7)),
    right: Float64Array.from({ length }, (_, n) => level * Math.cos((n + seed) * (n + 3) * 0.13)),
  }));

const expectSame = (found: Block, wanted: Block): void => {
  expect(firstDifference(found.left, wanted.left)).toBe(-1);
  expect(firstDifference(found.right, wanted.right)).toBe(-1);
};

/** Does something to a block in the memory of the kernels. */
function placed<Result>({ left, right }: Block, act: (at: Placed) => Result): Result {
  machine.begin();
  return act(machine.place({ left, right }));
}

describe('the kernels give the same bits as the references', () => {
  it('and run on this machine', () => expect(kernels).not.toBeNull());

  it('when they resample', () => {
    const shape = fc.record({
      up: fc.integer({ min: 1, max: 20 }),
      down: fc.integer({ min: 1, max: 40 }),
      eighths: fc.integer({ min: 1, max: 6 }),
      count: fc.integer({ min: 0, max: 60 }),
      start: fc.nat(1000),
    });
    fc.assert(
      fc.property(shape, ({ up, down, eighths, count, start }) => {
        const taps = 8 * eighths;
        const rows: Rows = { up, down, taps, table: table(up * taps) };
        const phase = start % up;
        const left = table(Math.floor((phase + Math.max(0, count - 1) * down) / up) + taps, 7);
        const input = { left, right: left.map((each) => -0.3 * each) };
        const found = placed(input, (at) =>
          machine.copy(resamplePlaced(machine, rows, { phase, count }, at)),
        );
        expectSame(found, resampleReference(rows, { phase, count }, input));
      }),
    );
  });

  it('when they halve', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 30 }), fc.integer({ min: 0, max: 40 }), (pairs, count) => {
        const filter = { centre: 0.5, odd: table(2 * pairs, 3) };
        const left = table(halveNeeds(filter, count), 11);
        const input = { left, right: left.map((each) => -0.3 * each) };
        const found = placed(input, (at) => machine.copy(halvePlaced(machine, filter, count, at)));
        expectSame(found, halveReference(filter, count, input));
      }),
    );
  });

  it('one after the other without treading on each other', () => {
    // Tables stay in the memory for good, everything else is given up: a second table must not lie where audio did.
    const rows = (seed: number): Rows => ({ ...{ up: 2, down: 3, taps: 8 }, table: table(16, seed) });
    const input = { left: new Float64Array(64).fill(0.5), right: new Float64Array(64).fill(-0.25) };
    const walk = { phase: 1, count: 30 };
    const [one, two] = [rows(1), rows(2)];
    for (const each of [one, two, one]) {
      const found = placed(input, (at) => machine.copy(resamplePlaced(machine, each, walk, at)));
      expectSame(found, resampleReference(each, walk, input));
    }
  });

  it('when they shorten, with the same errors carried on', () => {
    const run = fc.record({ length: fc.nat(40), dithered: fc.boolean(), forget: fc.boolean() });
    fc.assert(
      fc.property(
        fc.constantFrom(...DITHER_KINDS),
        fc.constantFrom('int16' as const, 'int24' as const),
        fc.integer({ min: 0, max: 2 ** 40 }),
        fc.array(run, { maxLength: 6 }),
        fc.double({ min: 0, max: 3, noNaN: true }),
        (kind, format, start, pieces, level) => {
          let from = 0;
          const runs = pieces.map(({ length, ...how }) => ({ ...how, from, to: (from += length) }));
          const left = Float64Array.from({ length: from + 3 }, (_, n) => level * Math.sin(n * 1.7 + start));
          const block = { left, right: left.map((v) => -v / 3) };
          const order = () => ({
            ...{ kind, start, runs, seed: { a: 12_345, b: -678 }, scale: 2 ** (8 * WORD_BYTES[format] - 1) },
            errors: new Float64Array(10).fill(0.25),
          });
          const [wanted, found] = [order(), order()];
          const words = shortenedWords(block, format, found);
          expect(firstDifference(words, shortenedWordsReference(block, format, wanted))).toBe(-1);
          expect(found.errors).toEqual(wanted.errors);
        },
      ),
    );
  });

  it.each<WordFormat>(['int16', 'int24', 'int32', 'float32', 'float64'])('when they read %s', (format) => {
    fc.assert(
      fc.property(blocks(60), (block) => {
        const words = encodeReference(block, format);
        expectSame(decodeWords(words, format, 2), decodeReference(words, format, 2, 'little'));
      }),
    );
  });

  it.each<WordFormat>(['int16', 'int24', 'int32', 'float32', 'float64'])('when they write %s', (format) => {
    fc.assert(
      fc.property(blocks(60), (block) => {
        expect(firstDifference(encodeWords(block, format), encodeReference(block, format))).toBe(-1);
      }),
    );
  });

  it('when they lay words against the programme', () => {
    fc.assert(
      fc.property(
        blocks(60, 1.02),
        fc.constantFrom('int16' as const, 'float32' as const),
        (block, format) => {
          const words = encodeReference({ left: block.right, right: block.left }, format);
          const [found, wanted] = [new NullTest(format), new NullTest(format)];
          found.push(words, block);
          wanted.pushReference(words, block);
          expect([found.samplePeak, found.residual]).toEqual([wanted.samplePeak, wanted.residual]);
        },
      ),
    );
  });

  it('when they weigh', () => {
    fc.assert(
      fc.property(blocks(300), fc.nat(100), (block, from) => {
        const [found, wanted] = [new KWeightedPower(44_100), new KWeightedPower(44_100)];
        const start = Math.min(from, block.left.length);
        const cuts = [0, start, block.left.length] as const;
        for (const [at, end] of [cuts.slice(0, 2), cuts.slice(1)] as [number, number][])
          expect(placed(block, (where) => found.overPlaced(machine, where, at, end))).toBe(
            wanted.over(block, at, end),
          );
      }),
    );
  });

  it('when they take statistics', () => {
    fc.assert(
      fc.property(blocks(99), (block) => {
        const meter = new SignalMeter('float32');
        meter.push(block);
        const [left = 0, right = 0, powerLeft = 0, powerRight = 0, cross = 0, peak] =
          statisticsReference(block);
        const { samplePeak, dcLeft, dcRight, correlation } = meter.result();
        const length = Math.max(1, block.left.length);
        expect([samplePeak, dcLeft, dcRight]).toEqual([peak, left / length, right / length]);
        const power = Math.sqrt(powerLeft * powerRight);
        expect(correlation).toBe(power > 0 ? Math.max(-1, Math.min(1, cross / power)) : null);
      }),
    );
  });

  it.each([4, 8, 16, 32, 1024, 2048])('when they transform %i points', (size) => {
    const fft = Fft.of(size);
    const [re, im] = [table(size, 5), table(size, 77)];
    const wanted = { left: re.slice(), right: im.slice() };
    fft.transformReference(wanted.left, wanted.right);
    fft.transform(re, im);
    expectSame({ left: re, right: im }, wanted);
  });

  it('when they look for true peaks, at any rate, length and level so far', () => {
    const audio = (length: number, seed: number): Float64Array =>
      Float64Array.from({ length }, (_, n) => Math.sin(n * n * 0.013 * seed) * Math.exp(-((n % 97) / 40)));
    fc.assert(
      fc.property(
        fc.constantFrom(44_100, 48_000, 96_000, 192_000),
        fc.integer({ min: 0, max: 700 }),
        fc.integer({ min: 1, max: 500 }),
        fc.double({ min: 0, max: 1.2, noNaN: true }),
        (rate, length, seed, peak) => {
          const points = pointsFor(rate);
          const left = audio(length, seed);
          const found = placed({ left, right: left }, (at) =>
            scanPlaced(machine, points, at.left, length, peak),
          );
          expect(found).toBe(scanReference(points, left, peak));
        },
      ),
    );
  });
});

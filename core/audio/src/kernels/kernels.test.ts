import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NullTest } from '../measure/null-test.js';
import { firstDifference } from '../testing.js';
import { DITHER_KINDS } from '../dsp/dither.js';
import { Fft } from '../dsp/fft.js';
import { conversionFor, convertPlaced, convertReference } from '../dsp/resample.js';
import { shortenedWords, shortenedWordsReference } from '../dsp/shorten.js';
import { KWeightedPower } from '../measure/k-weighting.js';
import { SignalMeter, statisticsReference } from '../measure/signal.js';
import { pointsFor, scanPlaced, scanReference } from '../measure/true-peak.js';
import { silence, type Block, type WordFormat } from '../pcm/block.js';
import { decodeReference, decodeWords, encodeReference, encodeWords } from '../pcm/words.js';
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

  it.each([
    [96_000, 44_100],
    [44_100, 48_000],
    [88_200, 44_100],
    [32_000, 44_100],
  ])('when they convert a block from %i to %i Hz', (from, to) => {
    const conversion = conversionFor(from, to);
    const { size } = conversion.forward;
    const left = table(size, 7);
    // Quiet at both ends and in the midst, where nothing may be left of what sounds beside it.
    left.fill(0, 0, size / 4).fill(0, size / 2, size / 2 + 2 * conversion.reach + 50);
    const window = { left, right: table(size, 9) };
    const halves = [0, 1].map((n) => ({
      left: window.left.subarray((n * size) / 2, ((n + 1) * size) / 2),
      right: window.right.subarray((n * size) / 2, ((n + 1) * size) / 2),
    }));
    const [found, wanted] = [silence(conversion.block), silence(conversion.block)];
    machine.begin();
    convertPlaced(machine, conversion, machine.place(...halves), found);
    convertReference(conversion, [window], wanted);
    expectSame(found, wanted);
    expect(found.left[0]).toBe(0);
    expect(found.left.filter((each) => each !== 0).length).toBeGreaterThan(found.left.length / 4);
  });

  it('one after the other without treading on each other', () => {
    // Tables stay in the memory for good, everything else is given up: a second table must not lie where audio did.
    for (const size of [3 * 64, 5 * 64, 3 * 64]) {
      const [re, im] = [table(size, 1), table(size, 2)];
      const wanted = { left: re.slice(), right: im.slice() };
      Fft.of(size).transformReference(wanted.left, wanted.right);
      Fft.of(size).transform(re, im);
      expectSame({ left: re, right: im }, wanted);
    }
  });

  it('when they shorten, with the same errors carried on', () => {
    const run = fc.record({ length: fc.nat(40), dithered: fc.boolean(), forget: fc.boolean() });
    fc.assert(
      fc.property(
        fc.constantFrom(...DITHER_KINDS),
        fc.constantFrom('int16' as const, 'int24' as const, 'int32' as const),
        // Four random numbers a sample: from 2^30 samples on their index takes more than 32 bits.
        fc.oneof(fc.integer({ min: 0, max: 2 ** 40 }), fc.integer({ min: 2 ** 30 - 40, max: 2 ** 30 })),
        fc.array(run, { maxLength: 6 }),
        fc.double({ min: 0, max: 3, noNaN: true }),
        (kind, format, start, pieces, level) => {
          let from = 0;
          const runs = pieces.map(({ length, ...how }) => ({ ...how, from, to: (from += length) }));
          const left = Float64Array.from({ length: from + 3 }, (_, n) => level * Math.sin(n * 1.7 + start));
          const block = { left, right: left.map((v) => -v / 3) };
          const order = () => ({
            ...{ kind, start, runs, seed: { a: 12_345, b: -678 } },
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
        const { length } = block.left;
        const start = Math.min(from, length);
        // Twice, so that what the filters remember counts as well.
        for (let time = 0; time < 2; time++)
          expect(placed(block, (where) => [...found.overPlaced(machine, where, [start, length])])).toEqual([
            wanted.over(block, 0, start),
            wanted.over(block, start, length),
          ]);
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

  it.each([8, 16, 24, 40, 56, 2048, 2352, 5120])('when they transform %i points', (size) => {
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

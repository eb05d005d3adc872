import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { uniform } from '../dsp/random.js';
import { WORD_BYTES, type Block, type WordFormat } from '../pcm/block.js';
import { encodeWords } from '../pcm/words.js';
import { MasterMeters } from './master-meters.js';
import {
  measureHere,
  measureMaster,
  measureStretch,
  StretchedSignal,
  type MeasureOrder,
  type Measurer,
} from './stretched-meters.js';

/** Music-like sound with silence at both ends, a click that clips over the border between two stretches, and a quiet passage. */
function sound(rate: number, seconds: number, clipsAt: number): Block {
  const length = Math.round(rate * seconds);
  const left = new Float64Array(length);
  const right = new Float64Array(length);
  for (let n = Math.floor(rate / 3); n < length - rate / 4; n++) {
    const quiet = n > rate && n < 1.5 * rate ? 2 ** -12 : 1;
    left[n] = quiet * (0.4 * Math.sin(n * 0.03) + 0.2 * (uniform({ a: 1, b: 2 }, n) - 0.5));
    right[n] = quiet * (0.3 * Math.sin(n * 0.031) + 0.2 * (uniform({ a: 3, b: 4 }, n) - 0.5));
  }
  for (let n = clipsAt - 4; n < clipsAt + 3; n++) left[n] = 1.1;
  for (let n = clipsAt - 9; n < clipsAt - 5; n++) right[n] = -1.1;
  return { left, right };
}

/** Several at a time, whose answers come as they like. */
const slowly = (width: number): Measurer => ({
  width,
  measure: async (order) => {
    await new Promise((resolve) => setTimeout(resolve, (order.start * 7) % 5));
    return structuredClone(measureStretch(structuredClone(order)));
  },
  room: (bytes) => new Uint8Array(bytes).fill(255),
});

const sourceOf = (rate: number, format: WordFormat, block: Block) => {
  const bytes = encodeWords(block, format);
  const step = 2 * WORD_BYTES[format];
  return {
    ...{ rate, format, length: block.left.length },
    words: (start: number, count: number) =>
      Promise.resolve(bytes.subarray(start * step, (start + count) * step)),
    bytes,
  };
};

/** The same source, which writes its samples into the reader's memory. */
const layingInto = (source: ReturnType<typeof sourceOf>) => ({
  ...source,
  words: async (start: number, count: number, into?: Uint8Array) => {
    const words = await source.words(start, count);
    if (!into) throw new Error('no memory was brought');
    into.set(words);
    return into.subarray(0, words.length);
  },
});

describe('what is measured in stretches', () => {
  // At 22 050 Hz a stretch is 23 s long, at 352 800 Hz one second.
  const rate = 352_800;
  const block = sound(rate, 3.3, 2 * rate);
  const source = sourceOf(rate, 'int24', block);

  it('is the same with 1, 2, 3 and 8 at a time, to the bit', async () => {
    const wanted = await measureMaster(source, measureHere);
    for (const width of [1, 2, 3, 8]) {
      const found = await measureMaster(source, slowly(width));
      expect(found.measurement).toEqual(wanted.measurement);
      expect(found.silhouette.values).toEqual(wanted.silhouette.values);
      expect(found.powers).toEqual(wanted.powers);
      // Nothing that is still measured is written over.
      expect(await measureMaster(layingInto(source), slowly(width))).toEqual(found);
    }
  });

  it('is what one pass over the whole finds', async () => {
    const whole = new MasterMeters(rate, 'int24', source.length);
    whole.pushWords(source.bytes);
    const wanted = whole.result();
    const { measurement, silhouette, powers } = await measureMaster(source, slowly(3));
    // Joins are exact; sums are taken in another order, and the loudness filters begin from rest before each stretch: both leave less than 1e-9.
    for (const [name, value] of Object.entries(wanted.measurement)) {
      const found: unknown = measurement[name as keyof typeof measurement];
      if (typeof value === 'number') expect([name, found]).toEqual([name, expect.closeTo(value, 9)]);
      else if (name === 'thirdOctavesDb')
        expect(found).toEqual(
          (value as (number | null)[]).map((db) => db && (expect.closeTo(db, 9) as number)),
        );
      else if (name === 'upperEnd') expect(found).toMatchObject({ at: (value as { at: number }).at });
      else expect([name, found]).toEqual([name, value]);
    }
    expect(silhouette.values).toEqual(wanted.silhouette.values);
    powers.forEach((power, i) => expect(power).toBeCloseTo(wanted.powers[i] ?? 0, 12));
  });

  it('knows a clipped run that goes over the border, and the order in which runs end', async () => {
    const { clipped, clippedRuns } = (await measureMaster(source, slowly(2))).measurement;
    expect(clippedRuns).toBe(2);
    expect(clipped).toEqual([
      { at: 2 * rate - 9, length: 4, channel: 'right' },
      { at: 2 * rate - 4, length: 7, channel: 'left' },
    ]);
  });

  it('is a run that lasts for whole stretches', async () => {
    const length = Math.round(3.2 * rate);
    const left = new Float64Array(length).fill(1, rate - 5, 3 * rate + 5);
    const found = await measureMaster(
      sourceOf(rate, 'int16', { left, right: new Float64Array(length) }),
      measureHere,
    );
    expect(found.measurement.clipped).toEqual([{ at: rate - 5, length: 2 * rate + 10, channel: 'left' }]);
    expect(found.measurement.edges[0]).toEqual({ levelDb: -60, start: rate - 5, end: 3 * rate + 5 });
  });

  it('of any length takes every sample once, in whatever pieces the words come', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 3 * rate }),
        fc.integer({ min: 1, max: 400_000 }),
        async (length, piece) => {
          const taken: [number, number][] = [];
          const watching: Measurer = {
            ...measureHere,
            width: 2,
            measure: (order: MeasureOrder) => {
              taken.push([order.start, order.length]);
              expect(order.lead).toBe(order.start > 0 ? rate / 4 : 0);
              return measureHere.measure(order);
            },
          };
          const meters = new StretchedSignal(rate, 'int16', watching);
          const words = new Uint8Array(4 * length);
          for (let at = 0; at < length; at += piece)
            await meters.push(words.subarray(4 * at, 4 * (at + piece)));
          await meters.result();
          let next = 0;
          for (const [start, count] of taken) {
            expect(start).toBe(next);
            next += count;
          }
          expect(next).toBe(length);
        },
      ),
      { numRuns: 8 },
    );
  });

  it('passes on what fails', async () => {
    const failing: Measurer = {
      ...measureHere,
      width: 2,
      measure: () => Promise.reject(new Error('no more')),
    };
    await expect(measureMaster(source, failing)).rejects.toThrow('no more');
  });
});

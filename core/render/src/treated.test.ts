import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { soundKey } from '@oiseau/album/model';
import { dbToLinear } from '@oiseau/audio/dsp';
import type { Block, PcmSource } from '@oiseau/audio/pcm';
import { treated, NO_ALBUM_TREATMENT, NO_TREATMENT, type Treatment } from '@oiseau/audio/stages';
import { sequence, sequenced } from '@oiseau/album/testing';
import { secondsToTicks } from '@oiseau/audio/time';
import { ditherKey, Programme } from './programme.js';

const RATE = 44_100;
/** Six seconds of a tone that swells. */
const tone: PcmSource = {
  ...{ rate: RATE, length: 6 * RATE, format: 'int24' as const },
  read: (start, count) => {
    const left = Float64Array.from({ length: count }, (_, i) => {
      const n = start + i;
      return n < 0 || n >= 6 * RATE
        ? 0
        : 0.5 * Math.sin((2 * Math.PI * 330 * n) / RATE) * Math.sin((Math.PI * n) / RATE);
    });
    return Promise.resolve({ left, right: left.map((x) => x / 2) });
  },
};
const masters = new Map([['m', tone]]);

const treatment: Treatment = {
  ...NO_TREATMENT,
  ride: [
    { at: 1, db: 0 },
    { at: 2, db: 4 },
  ],
  equaliser: [{ kind: 'high-shelf', hz: 5000, db: 3, q: 0.7 }],
  limiter: { drive: 3, ceiling: -4, release: 60 },
};
/** Starts three seconds into its master, a second after absolute zero. */
const song = (id: string, change = {}) =>
  sequenced(id, 5, { in: secondsToTicks(3), gapBefore: secondsToTicks(1), ...change });

const sameBits = (a: Block, b: Block): boolean =>
  (['left', 'right'] as const).every((side) => a[side].every((value, i) => value === b[side][i]));

describe('a song that is treated', () => {
  it('sounds as its whole master does, treated with its gain before it, at the place of its region', async () => {
    const whole = new Programme(sequence(song('a', { sound: treatment, gainDb: -2 })), masters, RATE);
    const gained: PcmSource = {
      ...tone,
      read: async (start, count) => {
        const { left, right } = await tone.read(start, count);
        const gain = dbToLinear(-2);
        return { left: left.map((x) => x * gain), right: right.map((x) => x * gain) };
      },
    };
    const alone = await treated(gained, treatment).read(3 * RATE, 2 * RATE);
    expect(sameBits(await whole.read(RATE, 2 * RATE), alone)).toBe(true);
    // A trim leaves what sounds as it was: the stages have worked on the master before it was cut.
    const later = sequence(song('a', { sound: treatment, gainDb: -2, in: secondsToTicks(4) }));
    const trimmed = await new Programme(later, masters, RATE).read(RATE, RATE);
    expect(sameBits(trimmed, { left: alone.left.slice(RATE), right: alone.right.slice(RATE) })).toBe(true);
  });

  it('gives the same bits wherever the programme is read, with the album treated as well', async () => {
    const both = {
      ...sequence(song('a', { sound: treatment }), song('b', { gapBefore: secondsToTicks(-0.5) })),
      sound: {
        ...NO_ALBUM_TREATMENT,
        compressor: { threshold: -18, ratio: 2, attack: 10, release: 40, knee: 6, makeup: 1 },
      },
    };
    const all = await new Programme(both, masters, RATE).read(0, 5 * RATE);
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(4 * RATE), fc.nat(20_000)), { maxLength: 3 }),
        async (reads) => {
          const programme = new Programme(both, masters, RATE);
          for (const [start, count] of reads) {
            const wanted = {
              left: all.left.slice(start, start + count),
              right: all.right.slice(start, start + count),
            };
            expect(sameBits(wanted, await programme.read(start, count))).toBe(true);
          }
        },
      ),
      { numRuns: 6 },
    );
  }, 60_000);

  it('counts as touched throughout, and the album’s treatment touches all of it', () => {
    const touched = (made: ReturnType<typeof sequence>): unknown =>
      new Programme(made, masters, RATE).touchedRanges(24);
    expect(touched(sequence(song('a')))).toEqual([]);
    expect(touched(sequence(song('a', { sound: treatment })))).toEqual([{ start: RATE, end: 3 * RATE }]);
    const limiter = { drive: 0, ceiling: -1, release: 80 };
    const album = { ...sequence(song('a')), sound: { ...NO_ALBUM_TREATMENT, limiter } };
    expect(touched(album)).toEqual([{ start: 0, end: new Programme(album, masters, RATE).length }]);
  });

  it('seeds its dither by what is done; what does nothing seeds nothing', () => {
    const key = (change: object, sound = NO_ALBUM_TREATMENT): string =>
      ditherKey({ ...sequence(song('a', change)), sound }, masters);
    // As it was before there was any treatment: rate, length and word, in, out, gap, gain, and both fades.
    const told = [RATE, 6 * RATE, 'int24', 3, 5, 1].map((value, i) =>
      i < 3 ? value : secondsToTicks(Number(value)),
    );
    expect(key({})).toBe(JSON.stringify([0, [[...told, 0, [0, 'linear'], [0, 'linear']]]]));
    expect(key({ sound: { ...NO_TREATMENT, ride: [{ at: 1, db: 0 }] } })).toBe(key({}));
    expect(key({ sound: treatment })).not.toBe(key({}));
    const limiter = { drive: 0, ceiling: -1, release: 80 };
    expect(key({}, { ...NO_ALBUM_TREATMENT, limiter })).not.toBe(key({}));
    expect(soundKey(sequence(song('a', { sound: treatment })))).not.toBe(soundKey(sequence(song('a'))));
  });
});

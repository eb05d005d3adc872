import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import type { PcmSource } from '../pcm/block.js';
import { isUntreated, NO_TREATMENT, treatmentSchema, treatmentWords, type Treatment } from './treatment.js';
import { treated } from './treated.js';

const RATE = 44_100;
/** A second of a tone with a beat to it; both channels differ. */
const source: PcmSource = {
  ...{ rate: RATE, length: RATE, format: 'int24' as const },
  read: (start, count) => {
    const at = (n: number, hz: number): number =>
      n < 0 || n >= RATE ? 0 : 0.4 * Math.sin((2 * Math.PI * hz * n) / RATE) * Math.sin((Math.PI * n) / RATE);
    return Promise.resolve({
      left: Float64Array.from({ length: count }, (_, i) => at(start + i, 220)),
      right: Float64Array.from({ length: count }, (_, i) => at(start + i, 331)),
    });
  },
};

const of = (change: Partial<Treatment>): Treatment => ({ ...NO_TREATMENT, ...change });

describe('a treatment', () => {
  it('that does nothing is the very source', () => {
    const nothing = of({
      ride: [{ at: 3, db: 0 }],
      equaliser: [{ kind: 'bell', hz: 900, db: 0, q: 1 }],
      width: { side: 0, monoBelow: 0 },
      compressor: { threshold: -20, ratio: 1, attack: 15, release: 150, knee: 6, makeup: 0 },
    });
    expect(isUntreated(nothing)).toBe(true);
    expect(treated(source, nothing)).toBe(source);
    expect(treated(source, NO_TREATMENT)).toBe(source);
  });

  it('works in the order ride, equaliser, width, compressor, limiter', async () => {
    // Driven far over it by the ride, the tone still ends under the limiter's ceiling, as loud as that lets it be.
    const made = treated(
      source,
      of({
        ride: 12,
        width: { side: -60, monoBelow: 0 },
        limiter: { drive: 0, ceiling: -6, release: 50 },
      }),
    );
    const { left, right } = await made.read(0, RATE);
    expect(left).toEqual(right);
    const highest = Math.max(...left.map(Math.abs));
    expect(highest).toBeLessThanOrEqual(10 ** (-6 / 20));
    expect(highest).toBeGreaterThan(10 ** (-6.3 / 20));
  });

  it('is read from an album file with what is left out, and nothing else', () => {
    expect(treatmentSchema.parse({})).toEqual(NO_TREATMENT);
    const limiter = { drive: 0, ceiling: -1, release: 80 };
    expect(treatmentSchema.parse({ limiter })).toEqual(of({ limiter }));
    for (const wrong of [
      { reverb: 1 },
      { ride: -61 },
      { width: { side: 13, monoBelow: 0 } },
      { width: { side: 0, monoBelow: 19 } },
      { compressor: { threshold: -20, ratio: 0.9, attack: 15, release: 150, knee: 6, makeup: 0 } },
      { limiter: { ...limiter, ceiling: 0.1 } },
      { limiter: { ...limiter, release: 5001 } },
    ])
      expect(treatmentSchema.safeParse(wrong).success).toBe(false);
  });

  it('is told in a few words for each stage that does anything', () => {
    const everything = of({
      ride: [
        { at: 0, db: -1.5 },
        { at: 9, db: 2 },
      ],
      equaliser: [
        { kind: 'low-cut', hz: 28, slope: 24 },
        { kind: 'high-shelf', hz: 9000, db: 1, q: 0.7 },
      ],
      width: { side: -3, monoBelow: 120 },
      compressor: { threshold: -20, ratio: 2, attack: 15, release: 150, knee: 6, makeup: 0 },
      limiter: { drive: 2, ceiling: -1, release: 80 },
    });
    expect(treatmentWords(everything).map(english)).toEqual([
      'gain ride −1.5 dB to +2 dB',
      'low cut 28 Hz, high shelf 9 kHz +1 dB',
      'sides −3 dB, mono below 120 Hz',
      'compressor 2:1 over −20 dB',
      'limiter −1 dB, drive +2 dB',
    ]);
    expect(treatmentWords(NO_TREATMENT)).toEqual([]);
  });
});

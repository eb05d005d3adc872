import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sampleSource } from '../testing.js';
import type { Block } from '../pcm/block.js';
import { bandSchema, equaliserIsNeutral, type Band, equalised } from './equaliser.js';
import { coefficientsOf, outermostPole } from './biquads.js';
import { digitalPower, fitSection } from './fit.js';
import { bell, highCut, highShelf, lowCut, lowShelf, powerOf, type AnalogueSection } from './prototype.js';

const RATES = [44_100, 48_000, 96_000, 192_000];
const db = (power: number): number => 10 * Math.log10(power);

const noise = (length: number, seed = 1): Float64Array => {
  let state = seed;
  return Float64Array.from(
    { length },
    () => (state = (Math.imul(state, 48_271) >>> 0) % 0x7fffffff) / 0x3fffffff - 1,
  );
};

describe('the prototypes', () => {
  it('have the gains that their formulas are made for', () => {
    // At the band's own frequency, and far to both sides of it; cuts of Butterworth are 3.0103 dB down there.
    expect(db(powerOf(bell(6, 3), 1000, 1000))).toBeCloseTo(6, 9);
    expect(db(powerOf(bell(6, 3), 1000, 1e9))).toBeCloseTo(0, 6);
    expect(db(powerOf(lowShelf(-9, 0.7071), 1000, 1e-3))).toBeCloseTo(-9, 6);
    expect(db(powerOf(lowShelf(-9, 0.7071), 1000, 1000))).toBeCloseTo(-4.5, 6);
    expect(db(powerOf(highShelf(12, 1), 1000, 1e9))).toBeCloseTo(12, 6);
    for (const slope of [12, 24] as const)
      for (const sections of [lowCut(slope), highCut(slope)])
        expect(db(sections.reduce((all, each) => all * powerOf(each, 500, 500), 1))).toBeCloseTo(-3.0103, 4);
    // Two octaves above a high cut: 1 + 4^(2n) times less, n = 2 and 4.
    expect(db(powerOf(highCut(12)[0] as AnalogueSection, 100, 400))).toBeCloseTo(-db(1 + 4 ** 4), 6);
  });
});

const kinds = ['bell', 'low-shelf', 'high-shelf', 'low-cut', 'high-cut'] as const;
const sectionsOf = (
  kind: (typeof kinds)[number],
  gain: number,
  q: number,
  slope: 12 | 24,
): AnalogueSection[] =>
  kind === 'bell'
    ? [bell(gain, q)]
    : kind === 'low-shelf'
      ? [lowShelf(gain, q)]
      : kind === 'high-shelf'
        ? [highShelf(gain, q)]
        : kind === 'low-cut'
          ? lowCut(slope)
          : highCut(slope);

function keepsTo(analogue: readonly AnalogueSection[], hz: number, rate: number): void {
  const digital = analogue.flatMap((section) => fitSection(section, hz, rate).sections);
  expect(outermostPole(coefficientsOf(digital))).toBeLessThan(1);
  for (let frequency = 20; frequency < Math.min(20_000, 0.98 * (rate / 2)); frequency *= 1.02) {
    const wanted = db(analogue.reduce((all, section) => all * powerOf(section, hz, frequency), 1));
    if (wanted < -40) continue;
    const error = Math.abs(db(digitalPower(digital, (2 * Math.PI * frequency) / rate)) - wanted);
    expect(error).toBeLessThanOrEqual(frequency <= 16_000 ? 0.25 : 0.5);
  }
}

describe('a digital band', () => {
  // What a first search over few frequencies misses: slopes that begin near half the rate, and a notch between two of those frequencies.
  it.each([
    [44_100, 16_269.4, highCut(12)],
    [44_100, 16_948.6, highCut(12)],
    [44_100, 17_683.1, highCut(12)],
    [44_100, 25_803.2, [highShelf(-8.68, 10.667)]],
    [48_000, 13_294.3, [lowShelf(-13.71, 13.445)]],
    [48_000, 16_824.7, [bell(-13.65, 13.098)]],
    [48_000, 32_720.7, [highShelf(-17.1, 19.401)]],
    [48_000, 3029.5, [highShelf(16.4, 16.379)]],
  ])('keeps to it where that is hard: at %d Hz, %d Hz', (rate, hz, analogue) => {
    keepsTo(analogue, hz, rate);
  });

  it.each(RATES)(
    'keeps to its prototype within 0.25 dB up to 16 kHz and 0.5 dB up to 20 kHz at %d Hz',
    (rate) => {
      fc.assert(
        fc.property(
          fc.record({
            kind: fc.constantFrom(...kinds),
            // Frequencies and widths evenly by octaves.
            octave: fc.double({ min: 0, max: Math.log2(4000), noNaN: true }),
            gain: fc.double({ min: -24, max: 24, noNaN: true }),
            width: fc.double({ min: Math.log2(0.1), max: Math.log2(20), noNaN: true }),
            slope: fc.constantFrom<12 | 24>(12, 24),
          }),
          ({ kind, octave, gain, width, slope }) =>
            keepsTo(sectionsOf(kind, gain, 2 ** width, slope), 10 * 2 ** octave, rate),
        ),
        { numRuns: 200 },
      );
    },
  );

  it('does to a sine what its response says', async () => {
    const rate = 48_000;
    const band: Band = { kind: 'bell', hz: 3000, db: 9, q: 2 };
    for (const frequency of [100, 3000, 9000]) {
      const tone = Float64Array.from({ length: rate }, (_, n) =>
        Math.sin((2 * Math.PI * frequency * n) / rate),
      );
      const { left } = await equalised(sampleSource(tone, rate), [band]).read(0, rate);
      // The root mean square of whole periods, after it has settled.
      const settled = left.subarray(rate / 2);
      const level = db(settled.reduce((sum, x) => sum + x * x, 0) / settled.length) + db(2);
      expect(level).toBeCloseTo(db(powerOf(bell(9, 2), 3000, frequency)), 1);
    }
  });
});

const moving = fc
  .array(
    fc.record({
      at: fc.double({ min: 0, max: 3, noNaN: true }),
      db: fc.double({ min: -12, max: 12, noNaN: true }),
    }),
    {
      minLength: 1,
      maxLength: 5,
    },
  )
  .map((points) =>
    [...new Map(points.map((point) => [point.at, point])).values()].sort((a, b) => a.at - b.at),
  );
const q = fc.double({ min: 0.3, max: 2, noNaN: true });
const hz = fc.double({ min: 60, max: 20_000, noNaN: true });
const band: fc.Arbitrary<Band> = fc.oneof(
  fc.record({
    kind: fc.constantFrom('bell' as const, 'low-shelf' as const, 'high-shelf' as const),
    ...{ hz, q },
    db: fc.oneof(fc.double({ min: -12, max: 12, noNaN: true }), moving),
  }),
  fc.record({
    kind: fc.constantFrom('low-cut' as const, 'high-cut' as const),
    hz,
    slope: fc.constantFrom<12 | 24>(12, 24),
  }),
);

describe('a source through an equaliser', () => {
  it('gives the same bits wherever and however it is read', async () => {
    const rate = 8000;
    const source = sampleSource(noise(5 * rate), rate, noise(5 * rate, 7));
    await fc.assert(
      fc.asyncProperty(
        fc.array(band, { minLength: 1, maxLength: 3 }),
        fc.array(fc.record({ start: fc.integer({ min: -500, max: 5 * rate }), count: fc.nat(9000) }), {
          maxLength: 6,
        }),
        async (bands, reads) => {
          const whole = await equalised(source, bands).read(-500, 6 * rate);
          const other = equalised(source, bands);
          for (const { start, count } of reads) {
            const found = await other.read(start, count);
            const from = start + 500;
            const wanted = (audio: Float64Array): Float64Array => {
              const cut = new Float64Array(count);
              cut.set(audio.subarray(from, Math.min(audio.length, from + count)));
              return cut;
            };
            expect(sameBits(found, { left: wanted(whole.left), right: wanted(whole.right) })).toBe(true);
          }
        },
      ),
      { numRuns: 40 },
    );
  }, 60_000);

  it('is told by no step or click where a band moves', async () => {
    const rate = 44_100;
    const tone = Float64Array.from(
      { length: 2 * rate },
      (_, n) => 0.5 * Math.sin((2 * Math.PI * 200 * n) / rate),
    );
    const points = [
      { at: 0.2, db: -12 },
      { at: 0.7, db: 12 },
      { at: 0.71, db: 0 },
      { at: 1.5, db: 6 },
    ];
    const bands: Band[] = [
      { kind: 'bell', hz: 200, db: points, q: 1 },
      { kind: 'high-shelf', hz: 9000, db: points, q: 0.7 },
    ];
    const { left } = await equalised(sampleSource(tone, rate), bands).read(0, 2 * rate);
    // A sine of 200 Hz bends by no more than its amplitude times (2π·200/44100)², at 18 dB more than it has; a click bends at once.
    let sharpest = 0;
    for (let i = 1000; i < left.length - 1; i++)
      sharpest = Math.max(sharpest, Math.abs((left[i - 1] ?? 0) - 2 * (left[i] ?? 0) + (left[i + 1] ?? 0)));
    expect(sharpest).toBeLessThan(0.5 * 10 ** (18 / 20) * ((2 * Math.PI * 200) / rate) ** 2 * 1.5);
  });

  it('is not there where no band does anything', () => {
    expect(equaliserIsNeutral([])).toBe(true);
    expect(equaliserIsNeutral([{ kind: 'bell', hz: 100, db: [{ at: 1, db: 0 }], q: 1 }])).toBe(true);
    expect(equaliserIsNeutral([{ kind: 'low-cut', hz: 28, slope: 24 }])).toBe(false);
  });

  it('has bands in the ranges of the album file only', () => {
    const fits = (change: object): boolean =>
      bandSchema.safeParse({ kind: 'bell', hz: 900, db: -1.5, q: 0.7, ...change }).success;
    expect([{}, { hz: 10 }, { hz: 40_000 }, { db: 24 }, { q: 20 }].map(fits)).toEqual(Array(5).fill(true));
    const points = [
      { at: 1, db: 0 },
      { at: 1, db: 2 },
    ];
    const wrong = [
      { hz: 9 },
      { hz: 40_001 },
      { db: 24.1 },
      { q: 0.09 },
      { db: points },
      { db: [] },
      { slope: 12 },
    ];
    expect(wrong.map(fits)).toEqual(Array(7).fill(false));
  });
});

const sameBits = (a: Block, b: Block): boolean =>
  (['left', 'right'] as const).every((side) =>
    a[side].every((value, i) => Object.is(value, b[side][i]) || value === b[side][i]),
  );

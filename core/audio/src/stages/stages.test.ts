import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sampleSource } from '../testing.js';
import type { Block, PcmSource } from '../pcm/block.js';
import { reductionOf, type Compressor, compressed } from './compressor.js';
import { type Limiter, LimitedSource } from './limiter.js';
import { valueAt } from './automation.js';
import { RideSource } from './ride.js';
import { type Width, widened } from './width.js';

const RATE = 44_100;
const db = (linear: number): number => 20 * Math.log10(linear);

const sourceOf = (left: Float64Array, right = left, rate = RATE): PcmSource =>
  sampleSource(left, rate, right);

function noise(length: number, seed: number): Float64Array {
  let state = seed;
  return Float64Array.from({ length }, () => (state = (state * 48_271) % 0x7fffffff) / 0x3fffffff - 1);
}

const sine = (hz: number, seconds: number, gain: (t: number) => number, rate = RATE): Float64Array =>
  Float64Array.from(
    { length: Math.round(seconds * rate) },
    (_, n) => gain(n / rate) * Math.sin((2 * Math.PI * hz * n) / rate),
  );

const whole = (source: PcmSource): Promise<Block> => source.read(0, source.length);

describe('a moving value', () => {
  it('is linear in dB between its points and constant outside, wherever it is asked', () => {
    const at = valueAt(
      [
        { at: 1, db: -6 },
        { at: 2, db: 6 },
        { at: 4, db: 0 },
      ],
      10,
    );
    expect([0, 10, 15, 20, 30, 40, 99, 15].map(at)).toEqual([-6, -6, 0, 6, 3, 0, 0, 0]);
  });

  it('rides a source by its gain', async () => {
    const ride = new RideSource(sourceOf(new Float64Array(100).fill(0.5)), -6);
    expect(db((await whole(ride)).left[7] ?? 0)).toBeCloseTo(db(0.5) - 6, 9);
  });
});

describe('width', () => {
  it('leaves the mid and moves the side', async () => {
    const [left, right] = [noise(5000, 3), noise(5000, 5)];
    for (const [side, factor] of [
      [6, 10 ** 0.3],
      [-60, 0],
    ] as const) {
      const out = await whole(widened(sourceOf(left, right), { side, monoBelow: 0 }));
      for (let i = 0; i < 5000; i += 97) {
        const [l, r] = [out.left[i] ?? 0, out.right[i] ?? 0];
        expect((l + r) / 2).toBeCloseTo(((left[i] ?? 0) + (right[i] ?? 0)) / 2, 12);
        expect((l - r) / 2).toBeCloseTo((factor * ((left[i] ?? 0) - (right[i] ?? 0))) / 2, 12);
      }
    }
  });

  it('is mono below a frequency and as it was well above it', async () => {
    const levelOf = async (hz: number): Promise<number> => {
      const tone = sine(hz, 2, () => 0.5);
      const out = await whole(
        widened(
          sourceOf(
            tone,
            tone.map((x) => -x),
          ),
          { side: 0, monoBelow: 150 },
        ),
      );
      const settled = out.left.subarray(RATE);
      return db(Math.sqrt((2 * settled.reduce((sum, x) => sum + x * x, 0)) / settled.length) / 0.5);
    };
    // Butterworth of 24 dB an octave: −10·lg(1 + (150/75)⁸) an octave below.
    expect(await levelOf(75)).toBeCloseTo(-24.1, 1);
    expect(await levelOf(150)).toBeCloseTo(-3.01, 1);
    expect(await levelOf(3000)).toBeCloseTo(0, 1);
  });
});

const COMPRESSOR: Compressor = { threshold: -20, ratio: 4, attack: 15, release: 150, knee: 0, makeup: 0 };

describe('the compressor', () => {
  it('has the law of its threshold, ratio and knee', () => {
    expect(reductionOf(COMPRESSOR, -20)).toBe(0);
    expect(reductionOf(COMPRESSOR, -8)).toBeCloseTo(9, 9);
    const soft = { ...COMPRESSOR, knee: 12 };
    // Half a knee above the threshold both laws meet; at it the bend has gone a quarter of the way.
    expect(reductionOf(soft, -14)).toBeCloseTo(4.5, 9);
    expect(reductionOf(soft, -20)).toBeCloseTo((0.75 * 36) / 24, 9);
    expect(reductionOf(soft, -26)).toBe(0);
  });

  it.each([60, 100, 1000, 9000])('reduces a steady sine of %d Hz by what the law says', async (hz) => {
    // −6 dB RMS with a full-scale sine at 0 dB: 14 dB over, three quarters of it away.
    const tone = sine(hz, 3, () => 10 ** (-6 / 20));
    const { left } = await whole(compressed(sourceOf(tone), COMPRESSOR));
    const settled = left.subarray(2 * RATE);
    const level = db(Math.sqrt((2 * settled.reduce((sum, x) => sum + x * x, 0)) / settled.length));
    expect(Math.abs(level - (-6 - 10.5))).toBeLessThan(0.1);
  });

  it.each([200, 440, 1000])(
    'reduces a square wave of %d Hz by what the law says of its RMS level',
    async (hz) => {
      // ±0.4: its RMS is 0.4, which is −4.95 dB where a full-scale sine is at 0 dB: 15.05 dB over, three quarters of it away.
      const wave = Float64Array.from({ length: 3 * RATE }, (_, n) =>
        Math.floor((2 * hz * n) / RATE) % 2 ? -0.4 : 0.4,
      );
      const { left } = await whole(compressed(sourceOf(wave), COMPRESSOR));
      const settled = left.subarray(2 * RATE);
      const reduction = -10 * Math.log10(settled.reduce((sum, x) => sum + x * x, 0) / settled.length / 0.16);
      expect(Math.abs(reduction - 0.75 * (20 + 20 * Math.log10(0.4 * Math.SQRT2)))).toBeLessThan(0.1);
    },
  );

  it.each([
    [5, 50],
    [15, 150],
    [100, 1000],
  ])(
    'makes 63 parts of 100 of a step good in %d ms of attack and %d ms of release',
    async (attack, release) => {
      // 4 kHz: under the threshold, then 12 dB over it (9 dB of reduction), then under it again.
      const tone = sine(4000, 6, (t) => 10 ** ((t >= 1 && t < 3 ? -8 : -40) / 20));
      const { left } = await whole(compressed(sourceOf(tone), { ...COMPRESSOR, attack, release }));
      // Where a sine is far from zero its gain is read off sample by sample.
      const reductionAt = (seconds: number): number => {
        const n = Math.round(seconds * RATE);
        let [most, at] = [0, n];
        for (let i = n - 6; i <= n + 6; i++)
          if (Math.abs(tone[i] ?? 0) > most) [most, at] = [Math.abs(tone[i] ?? 0), i];
        return -db(Math.abs(left[at] ?? 0) / most);
      };
      const timeUntil = (from: number, reached: (reduction: number) => boolean): number => {
        for (let ms = 0; ; ms += 0.25) if (reached(reductionAt(from + ms / 1000))) return ms;
      };
      const share = 1 - Math.exp(-1);
      expect(timeUntil(1, (reduction) => reduction >= 9 * share) / attack).toBeCloseTo(1, 0.6);
      expect(timeUntil(3, (reduction) => reduction <= 9 * (1 - share)) / release).toBeCloseTo(1, 0.6);
    },
  );
});

/** The true peak by eight points between samples, with more weights than the limiter looks with. */
function truePeakOf(audio: Float64Array): number {
  const half = 48;
  let peak = 0;
  for (let n = half; n < audio.length - half; n++)
    for (let point = 0; point < 8; point++) {
      let value = 0;
      if (point === 0) value = audio[n] ?? 0;
      else
        for (let k = 1 - half; k <= half; k++) {
          const x = point / 8 - k;
          value +=
            (audio[n + k] ?? 0) *
            (Math.sin(Math.PI * x) / (Math.PI * x)) *
            Math.cos((Math.PI * x) / (2 * half)) ** 2;
        }
      peak = Math.max(peak, Math.abs(value));
    }
  return peak;
}

/** Noise without anything over a frequency: a sum of sines of all levels and phases. */
function programme(seed: number, topHz: number, length: number): Float64Array {
  const random = noise(200, seed);
  const audio = new Float64Array(length);
  for (let k = 0; k < 24; k++) {
    const hz = topHz * Math.abs(random[3 * k] ?? 0);
    const level = 0.6 * Math.abs(random[3 * k + 1] ?? 0);
    const swell = 1 + Math.floor(20 * Math.abs(random[3 * k + 2] ?? 0));
    for (let n = 0; n < length; n++)
      audio[n] =
        (audio[n] ?? 0) +
        level * Math.sin((2 * Math.PI * hz * n) / RATE + k) * Math.sin((Math.PI * swell * n) / length);
  }
  return audio;
}

/** The true peak by an 8× meter of the usual length: 24 samples on each side, under a Hann window. */
function eightTimesPeak(audio: Float64Array): number {
  const side = 24;
  const rows = [1, 2, 3, 4, 5, 6, 7].map((eighths) => {
    const raw = Float64Array.from({ length: 2 * side }, (_, tap) => {
      const x = eighths / 8 + side - 1 - tap;
      return (Math.sin(Math.PI * x) / (Math.PI * x)) * Math.cos((Math.PI * x) / (2 * side)) ** 2;
    });
    const sum = raw.reduce((all, weight) => all + weight, 0);
    return raw.map((weight) => weight / sum);
  });
  let peak = 0;
  for (let i = side; i < audio.length - side; i++)
    for (const row of rows) {
      let value = 0;
      for (let tap = 0; tap < row.length; tap++)
        value += (row[tap] as number) * (audio[i - side + 1 + tap] as number);
      peak = Math.max(peak, Math.abs(value));
    }
  return peak;
}

describe('the limiter', () => {
  const limiter: Limiter = { drive: 0, ceiling: -1, release: 80 };

  it('keeps noise up to half the rate within 0.3 dB of its ceiling', async () => {
    for (let seed = 1; seed <= 8; seed++) {
      const audio = noise(RATE, 48_271 * seed);
      const { left } = await whole(new LimitedSource(sourceOf(audio), { ...limiter, drive: 6 }));
      expect(db(eightTimesPeak(left))).toBeLessThanOrEqual(limiter.ceiling + 0.3);
      expect(Math.max(...left.map(Math.abs))).toBeLessThanOrEqual(10 ** (limiter.ceiling / 20));
    }
  }, 60_000);

  it('keeps the true peak under its ceiling, and every sample', async () => {
    for (let seed = 1; seed <= 12; seed++) {
      const audio = programme(seed * 7919, 20_000, 6000);
      const { left } = await whole(
        new LimitedSource(sourceOf(audio), { ...limiter, ceiling: -1 - (seed % 4), drive: seed % 7 }),
      );
      const ceiling = -1 - (seed % 4);
      expect(db(truePeakOf(left))).toBeLessThanOrEqual(ceiling + 0.05);
      expect(Math.max(...left.map(Math.abs))).toBeLessThanOrEqual(10 ** (ceiling / 20));
    }
  }, 60_000);

  it('gives the driven signal back bit for bit where nothing comes over the ceiling', async () => {
    const audio = programme(11, 16_000, 8000).map((x) => x / 20);
    const { left } = await whole(new LimitedSource(sourceOf(audio), { ...limiter, drive: 3 }));
    const gain = 10 ** (3 / 20);
    expect(left.every((x, i) => x === (audio[i] ?? 0) * gain)).toBe(true);
  });

  it('begins at most 5 ms before a peak, and gives 63 % back within the release', async () => {
    const audio = new Float64Array(RATE).fill(0.25);
    const peak = 20_000;
    for (let i = -40; i <= 40; i++) audio[peak + i] = 0.25 + 1.75 * Math.cos((Math.PI * i) / 80) ** 2;
    const { left } = await whole(new LimitedSource(sourceOf(audio), limiter));
    const first = left.findIndex((x, i) => x !== audio[i]);
    expect(peak - 40 - first).toBeLessThanOrEqual(0.005 * RATE);
    expect(first).toBeLessThan(peak);
    const reduction = (n: number): number => -db((left[n] ?? 0) / (audio[n] ?? 1));
    const most = reduction(peak);
    expect(most).toBeCloseTo(db(2) + 1, 1);
    // From the last sample that needs it on: 80 ms later 37 % are left.
    const after = reduction(peak + 60 + Math.round(0.08 * RATE)) / reduction(peak + 60);
    expect(after).toBeCloseTo(Math.exp(-1), 1);
  });
});

describe('every stage', () => {
  it('gives the same bits wherever and however it is read', async () => {
    const rate = 6000;
    const source = sourceOf(noise(4 * rate, 3), noise(4 * rate, 11), rate);
    const stages: ((from: PcmSource) => PcmSource)[] = [
      (from) =>
        widened(from, {
          side: [
            { at: 0, db: -9 },
            { at: 3, db: 6 },
          ],
          monoBelow: 120,
        } satisfies Width),
      (from) => compressed(from, { ...COMPRESSOR, release: 40 }),
      (from) =>
        new LimitedSource(from, {
          drive: [
            { at: 1, db: 0 },
            { at: 2, db: 9 },
          ],
          ceiling: -2,
          release: 30,
        }),
      (from) =>
        new LimitedSource(compressed(from, { ...COMPRESSOR, release: 30 }), {
          drive: 6,
          ceiling: -1,
          release: 20,
        }),
    ];
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...stages),
        fc.array(fc.record({ start: fc.integer({ min: -300, max: 4 * rate }), count: fc.nat(7000) }), {
          maxLength: 6,
        }),
        async (stage, reads) => {
          const all = await stage(source).read(-300, 5 * rate);
          const other = stage(source);
          for (const { start, count } of reads) {
            const found = await other.read(start, count);
            for (const side of ['left', 'right'] as const)
              for (let i = 0; i < count; i++)
                if (found[side][i] !== (all[side][start + 300 + i] ?? 0))
                  throw new Error(
                    `${side} ${start + i}: ${found[side][i]} instead of ${all[side][start + 300 + i]}`,
                  );
          }
        },
      ),
      { numRuns: 30 },
    );
  }, 60_000);
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { firstDifference } from '../testing.js';
import { samples } from '../time/ticks.js';
import type { PcmSource } from '../pcm/block.js';
import { decodeWords } from '../pcm/words.js';
import { errorDensityDb, mostErrorLsb, Quantiser, type DitherKind } from './dither.js';
import { applyFade, FADE_SHAPES, fadeGain } from './fade.js';
import { seedFromText, uniform } from './random.js';
import { atRate, filterEdges, resampledLength } from './resample.js';

/** A source computed from its position; both channels alike. */
function computed(rate: number, length: number, value: (n: number) => number): PcmSource {
  return {
    rate,
    length,
    format: 'float64',
    read: (start, count) => {
      const left = Float64Array.from({ length: count }, (_, i) =>
        start + i >= 0 && start + i < length ? value(start + i) : 0,
      );
      return Promise.resolve({ left, right: left.map((v) => -v) });
    },
  };
}
const sine = (hz: number, rate: number) => (n: number) => Math.sin((2 * Math.PI * hz * n) / rate);
const rms = (audio: Float64Array): number =>
  Math.sqrt(audio.reduce((sum, v) => sum + v * v, 0) / audio.length);
/** Amplitude of one frequency by correlation with a Hann window over the stretch. */
function amplitude(audio: Float64Array, hz: number, rate: number): number {
  let re = 0;
  let im = 0;
  audio.forEach((v, n) => {
    const w = 1 - Math.cos((2 * Math.PI * (n + 0.5)) / audio.length);
    re += w * v * Math.cos((2 * Math.PI * hz * n) / rate);
    im += w * v * Math.sin((2 * Math.PI * hz * n) / rate);
  });
  return (2 * Math.hypot(re, im)) / audio.length;
}

describe('fades', () => {
  it('have the shapes of docs/rules.md 3.7 at a quarter', () => {
    expect(fadeGain('linear', 0.25)).toBe(0.25);
    expect(fadeGain('equal-power', 0.25)).toBeCloseTo(Math.sin(Math.PI / 8), 15);
    expect(fadeGain('cosine', 0.25)).toBeCloseTo(0.1464466094067, 12);
    expect(fadeGain('slow', 0.25)).toBe(0.0625);
    expect(fadeGain('fast', 0.25)).toBe(0.4375);
  });

  it.each(FADE_SHAPES)('%s runs from 0 to 1 and never falls', (shape) => {
    expect(fadeGain(shape, 0)).toBeCloseTo(0, 12);
    expect(fadeGain(shape, 1)).toBeCloseTo(1, 12);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 0.99, noNaN: true }), (x) => {
        expect(fadeGain(shape, x + 0.01)).toBeGreaterThanOrEqual(fadeGain(shape, x));
      }),
    );
  });

  it('take sample n at (n+½)/N, mirrored on the way out', () => {
    const audio = new Float64Array(6).fill(1);
    applyFade(audio, 0, 4, 'linear', 'in');
    expect([...audio]).toEqual([0.125, 0.375, 0.625, 0.875, 1, 1]);
    const tail = new Float64Array(6).fill(1);
    applyFade(tail, -2, 4, 'linear', 'out');
    expect([...tail]).toEqual([1, 1, 0.875, 0.625, 0.375, 0.125]);
  });

  it('equal power keeps the power of a crossfade', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (x) => {
        expect(fadeGain('equal-power', x) ** 2 + fadeGain('equal-power', 1 - x) ** 2).toBeCloseTo(1, 12);
      }),
    );
  });
});

describe('resampling (docs/rules.md 5)', () => {
  it('gives round(frames · out/in) samples', () => {
    expect(resampledLength(96_000, 96_000, 44_100)).toBe(44_100);
    expect(resampledLength(100, 48_000, 44_100)).toBe(92);
  });

  it('knows the edges that the trade asks for', () => {
    expect(filterEdges(96_000, 44_100)).toEqual({ passHz: 20_000, stopHz: 24_100 });
    expect(filterEdges(44_100, 96_000)).toEqual({ passHz: 20_000, stopHz: 22_050 });
    expect(filterEdges(192_000, 96_000)).toEqual({ passHz: 40_000, stopHz: 48_000 });
  });

  it.each([
    [96_000, 44_100],
    [48_000, 44_100],
    [44_100, 48_000],
    [44_100, 96_000],
    [192_000, 48_000],
    [88_200, 44_100],
    [176_400, 44_100],
    [192_000, 44_100],
    [384_000, 44_100],
  ])('from %i to %i Hz: within ±0.01 dB to 20 kHz and in step with the source', async (from, to) => {
    for (const hz of [50, 997, 12_000, 19_990]) {
      const out = await atRate(computed(from, from, sine(hz, from)), to).read(Math.floor(to / 4), 8192);
      const wanted = Float64Array.from({ length: 8192 }, (_, i) => sine(hz, to)(Math.floor(to / 4) + i));
      const gainDb = 20 * Math.log10(amplitude(out.left, hz, to) / amplitude(wanted, hz, to));
      expect(Math.abs(gainDb)).toBeLessThan(0.01);
      // A delay of 1/100 sample at 20 kHz would leave −35 dB of difference; nothing like that is left.
      expect(rms(out.left.map((v, i) => v - (wanted[i] as number)))).toBeLessThan(0.0009);
      expect(rms(out.right.map((v, i) => v + (out.left[i] as number)))).toBeLessThan(1e-15);
    }
  });

  it.each([
    ...[24_100, 30_000, 40_000, 47_000].map((hz) => [96_000, hz]),
    // Around 64.1 and 88.2 kHz, where the first of two filters must do the work for what the second can't tell from music.
    ...[24_100, 44_100, 64_200, 70_000, 87_000, 88_000, 95_000].map((hz) => [192_000, hz]),
    ...[24_100, 43_000].map((hz) => [88_200, hz]),
    ...[24_100, 64_200, 88_000].map((hz) => [176_400, hz]),
  ] as [number, number][])('%i → 44 100 Hz: %i Hz is at least 140 dB down', async (rate, hz) => {
    const out = await atRate(computed(rate, rate, sine(hz, rate)), 44_100).read(15_000, 8192);
    expect(20 * Math.log10(rms(out.left) * Math.SQRT2)).toBeLessThan(-140);
  });

  it.each([5_000, 18_000, 21_900])(
    '44.1 → 96 kHz: the image of %i Hz is at least 140 dB down',
    async (hz) => {
      const out = await atRate(computed(44_100, 44_100, sine(hz, 44_100)), 96_000).read(20_000, 32_768);
      expect(20 * Math.log10(amplitude(out.left, 44_100 - hz, 96_000))).toBeLessThan(-140);
    },
  );

  it.each([48_000, 88_200, 96_000])('from %i Hz: the same bits however the reads are cut', async (rate) => {
    const noise = (n: number): number => uniform(seedFromText('noise'), n) - 0.5;
    const whole = await atRate(computed(rate, 9_000, noise), 44_100).read(0, 4_000);
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.integer({ min: 1, max: 1_500 }), { minLength: 1, maxLength: 6 }),
        async (cuts) => {
          const source = atRate(computed(rate, 9_000, noise), 44_100);
          let at = 0;
          for (const cut of cuts) {
            const count = Math.min(cut, 4_000 - at);
            if (count === 0) break;
            expect(
              firstDifference((await source.read(at, count)).left, whole.left.subarray(at, at + count)),
            ).toBe(-1);
            at += count;
          }
        },
      ),
      { numRuns: 15 },
    );
  });
});

describe('random source', () => {
  it('is uniform: mean ½, variance 1/12, neighbours unrelated', () => {
    const n = 200_000;
    const values = Float64Array.from({ length: n }, (_, i) => uniform(seedFromText('a'), i) - 0.5);
    const mean = values.reduce((a, b) => a + b) / n;
    const variance = values.reduce((a, b) => a + b * b, 0) / n;
    const lag = values.slice(1).reduce((sum, v, i) => sum + v * (values[i] as number), 0) / n / variance;
    // Five standard errors: 1/√(12n), √(1/180/n), 1/√n.
    expect(Math.abs(mean)).toBeLessThan(5 / Math.sqrt(12 * n));
    expect(Math.abs(variance - 1 / 12)).toBeLessThan(5 * Math.sqrt(1 / 180 / n));
    expect(Math.abs(lag)).toBeLessThan(5 / Math.sqrt(n));
  });

  it('depends on the seed', () => {
    expect(uniform(seedFromText('a'), 1)).not.toBe(uniform(seedFromText('b'), 1));
    expect(uniform(seedFromText('a'), 5)).toBe(uniform(seedFromText('a'), 5));
  });
});

describe('dither', () => {
  const lsb = 1 / 32_768;
  const all = [{ start: samples(0), end: samples(Infinity) }];
  function shorten(
    kind: DitherKind,
    value: (n: number) => number,
    n = 588 * 200,
    touched = all,
  ): Float64Array {
    const left = Float64Array.from({ length: n }, (_, i) => value(i));
    const block = { left, right: left.slice() };
    const words = new Quantiser('int16', kind, seedFromText(kind), touched, 588).words(block, 0);
    return decodeWords(words, 'int16', 2).left;
  }
  const moments = (kind: DitherKind, level: number): { mean: number; rms: number } => {
    const errors = shorten(kind, () => level * lsb).map((v) => v / lsb - level);
    return { mean: errors.reduce((a, b) => a + b) / errors.length, rms: rms(errors) };
  };

  it.each([0.1, 0.25, 0.5, 0.77])('triangular: error mean 0 and RMS ½ LSB at a level of %f LSB', (level) => {
    const { mean, rms: spread } = moments('triangular', level);
    expect(Math.abs(mean)).toBeLessThan(0.008);
    expect(spread).toBeCloseTo(0.5, 2);
  });

  it('rectangular: mean 0, RMS moving with the signal from 0 to ½ LSB', () => {
    expect(Math.abs(moments('rectangular', 0.5).mean)).toBeLessThan(0.008);
    expect(moments('rectangular', 0.5).rms).toBeCloseTo(0.5, 2);
    expect(moments('rectangular', 1).rms).toBe(0);
  });

  it('shaped: less noise at 3.5 kHz and more in all than triangular', () => {
    const noise = (kind: DitherKind) =>
      shorten(kind, (i) => 0.3 * Math.sin(i / 9) + 0.01 * lsb).map((v, i) => v - 0.3 * Math.sin(i / 9));
    const band = (audio: Float64Array): number =>
      [3_000, 3_300, 3_600, 3_900].reduce((sum, hz) => sum + amplitude(audio, hz, 44_100) ** 2, 0);
    expect(rms(noise('shaped'))).toBeGreaterThan(2 * rms(noise('triangular')));
    expect(band(noise('shaped'))).toBeLessThan(band(noise('triangular')) / 4);
  });

  it('leaves what is untouched bit for bit, whatever stands beside it', () => {
    const words = (i: number): number => (((i * 7919) % 60_000) - 30_000) * lsb;
    const out = shorten('triangular', words, 588 * 4, [{ start: samples(588), end: samples(1176) }]);
    out.forEach((value, i) => {
      if (i < 588 || i >= 1176) expect(value).toBe(words(i));
    });
    expect(out.slice(588, 1176).some((value, i) => value !== words(588 + i))).toBe(true);
  });

  it('keeps whole frames of digital silence silent, but not a zero inside music', () => {
    const out = shorten('triangular', (i) => (i < 588 || i % 50 === 0 ? 0 : 0.1), 588 * 3);
    expect(out.slice(0, 588).every((v) => v === 0)).toBe(true);
    expect(Array.from({ length: 20 }, (_, k) => out[600 + k * 50]).some((v) => v !== 0)).toBe(true);
  });

  it('limits and never wraps', () => {
    expect(Math.max(...shorten('triangular', () => 1.2))).toBe(32_767 * lsb);
    expect(Math.min(...shorten('shaped', () => -1.2))).toBe(-1);
  });
});

describe('the error of shortened words', () => {
  it('is half a step by rounding, and what the dither adds', () => {
    expect(mostErrorLsb('none')).toBe(0.5);
    expect(mostErrorLsb('rectangular')).toBe(1);
    expect(mostErrorLsb('triangular')).toBe(1.5);
    // 1.5 · (1 + 2.033 + 2.165 + 1.959 + 1.59 + 0.6149)
    expect(mostErrorLsb('shaped')).toBeCloseTo(1.5 * 9.3619, 9);
  });
  it('has twice and three times the power of rounding, bent by shaping', () => {
    expect(errorDensityDb('none', 0.2)).toBe(0);
    expect(errorDensityDb('rectangular', 0.2)).toBeCloseTo(3.0103, 4);
    expect(errorDensityDb('triangular', 0.4)).toBeCloseTo(4.7712, 4);
    // At 0 Hz: 1 − (2.033 − 2.165 + 1.959 − 1.59 + 0.6149) = 0.1481; at half the rate: 1 + 2.033 + 2.165 + 1.959 + 1.59 + 0.6149
    expect(errorDensityDb('shaped', 0)).toBeCloseTo(4.7712 + 20 * Math.log10(0.1481), 3);
    expect(errorDensityDb('shaped', 0.5)).toBeCloseTo(4.7712 + 20 * Math.log10(9.3619), 3);
  });
});

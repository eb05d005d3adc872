import { describe, expect, it } from 'vitest';
import { uniform } from '../dsp/random.js';
import { Fft } from '../dsp/fft.js';
import { SpectrumMeter, THIRD_OCTAVES_HZ } from './spectrum.js';

describe('Fourier transform', () => {
  it.each([8, 16, 24, 32, 40, 56, 64, 120, 840])('of %i points is the sum that defines it', (size) => {
    const seed = { a: 3, b: size };
    const re = Float64Array.from({ length: size }, (_, i) => uniform(seed, i) - 0.5);
    const im = Float64Array.from({ length: size }, (_, i) => uniform(seed, size + i) - 0.5);
    const [foundRe, foundIm] = [re.slice(), im.slice()];
    Fft.of(size).transform(foundRe, foundIm);
    for (let k = 0; k < size; k++) {
      let [sumRe, sumIm] = [0, 0];
      for (let n = 0; n < size; n++) {
        const angle = (-2 * Math.PI * ((k * n) % size)) / size;
        sumRe += re[n]! * Math.cos(angle) - im[n]! * Math.sin(angle);
        sumIm += re[n]! * Math.sin(angle) + im[n]! * Math.cos(angle);
      }
      expect(foundRe[k]).toBeCloseTo(sumRe, 12);
      expect(foundIm[k]).toBeCloseTo(sumIm, 12);
    }
  });
});

function thirdOctaves(rate: number, value: (n: number) => [number, number]): (number | null)[] {
  const meter = new SpectrumMeter(rate);
  const length = rate * 2;
  const left = Float64Array.from({ length }, (_, n) => value(n)[0]);
  const right = Float64Array.from({ length }, (_, n) => value(n)[1]);
  for (let at = 0; at < length; at += 5000)
    meter.push({ left: left.subarray(at, at + 5000), right: right.subarray(at, at + 5000) });
  return meter.result();
}

describe('third octaves', () => {
  it.each([44_100, 96_000])('read a sine of half scale as −6 dB in its own band at %i Hz', (rate) => {
    for (const hz of [50, 1000, 12_500]) {
      const bands = thirdOctaves(rate, (n) => {
        const value = 0.5 * Math.sin((2 * Math.PI * hz * n) / rate);
        return [value, value];
      });
      const band = THIRD_OCTAVES_HZ.findIndex((centre) => centre === hz);
      // At 50 Hz the window's own width, two bins of 6 Hz, spills a little into the neighbours.
      expect(Math.abs(bands[band]! + 6.02)).toBeLessThan(hz === 50 ? 0.5 : 0.1);
      expect(bands[band - 3] ?? -200).toBeLessThan(-40);
      expect(bands[band + 3] ?? -200).toBeLessThan(-40);
    }
  });

  it('count one channel as 3 dB less than both', () => {
    const tone = (n: number): number => Math.sin((2 * Math.PI * 1000 * n) / 48_000);
    const both = thirdOctaves(48_000, (n) => [tone(n), tone(n)])[16]!;
    const one = thirdOctaves(48_000, (n) => [0, tone(n)])[16]!;
    expect(both - one).toBeCloseTo(3.01, 2);
  });

  it('rise 1 dB a band for white noise, whose power grows with the bandwidth', () => {
    const noise = (n: number): number => uniform({ a: 1, b: 2 }, n) - 0.5;
    const bands = thirdOctaves(48_000, (n) => [noise(2 * n), noise(2 * n + 1)]);
    const at = (hz: number): number => bands[THIRD_OCTAVES_HZ.findIndex((centre) => centre === hz)]!;
    expect(at(10_000) - at(1000)).toBeGreaterThan(9);
    expect(at(10_000) - at(1000)).toBeLessThan(11);
  });

  it('have nothing to tell past half the rate, or of silence', () => {
    expect(thirdOctaves(32_000, () => [0.1, 0.1]).slice(-1)).toEqual([null]);
    expect(thirdOctaves(48_000, () => [0, 0]).every((band) => band === null)).toBe(true);
  });
});

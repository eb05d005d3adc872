import fc from 'fast-check';
import { expect, it } from 'vitest';
import { kernels, type PeakPoints } from '../dsp/kernels.js';
import { pointsFor, scanReference } from './true-peak.js';

it('the kernel finds the very peak of the reference, at any rate, length and level so far', () => {
  const audio = (length: number, seed: number): Float64Array =>
    Float64Array.from({ length }, (_, n) => Math.sin(n * n * 0.013 * seed) * Math.exp(-((n % 97) / 40)));
  fc.assert(
    fc.property(
      fc.constantFrom(44_100, 48_000, 96_000, 192_000),
      fc.integer({ min: 0, max: 700 }),
      fc.integer({ min: 1, max: 500 }),
      fc.double({ min: 0, max: 1.2, noNaN: true }),
      (rate, length, seed, peak) => {
        const points: PeakPoints = pointsFor(rate);
        const signal = audio(length, seed);
        expect(kernels?.truePeak(points, signal, peak)).toBe(scanReference(points, signal, peak));
      },
    ),
  );
});

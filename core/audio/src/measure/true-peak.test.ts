import fc from 'fast-check';
import { expect, it } from 'vitest';
import { pointsFor, TruePeakMeter } from './true-peak.js';

const TAPS = 24;

it('no point lies higher than its two neighbours and the sharpest bend around it allow', () => {
  const sample = fc.double({ min: -1, max: 1, noNaN: true });
  fc.assert(
    fc.property(
      fc.constantFrom(22_050, 44_100, 96_000),
      fc.array(sample, { minLength: TAPS, maxLength: TAPS }),
      (rate, audio) => {
        const { table, rows, slope, bending } = pointsFor(rate);
        const bends = audio.slice(2).map((value, i) => Math.abs(value - 2 * audio[i + 1]! + audio[i]!));
        const neighbours = Math.max(Math.abs(audio[11]!), Math.abs(audio[12]!));
        const most = slope * neighbours + bending * Math.max(...bends);
        for (let row = 0; row < rows; row++) {
          const point = audio.reduce((sum, value, t) => sum + value * table[row * TAPS + t]!, 0);
          expect(Math.abs(point)).toBeLessThanOrEqual(most * (1 + 1e-9));
        }
      },
    ),
  );
});

it('the bound is close enough to be of use', () => {
  for (const rate of [44_100, 96_000]) {
    const { slope, bending } = pointsFor(rate);
    expect(slope).toBeLessThan(1.01);
    // No signal bends more sharply than a sine of half the rate: by 4 at amplitude 1. Even there it says less than 2 over the neighbours.
    expect(4 * bending).toBeLessThan(2);
  }
});

it('finds the peak between the samples of a loud tone that follows a long and quiet one', () => {
  // A sine of a quarter of the rate, sampled at 45 degrees, reaches 1 between samples of √½ [EBU Tech 3341, case 16].
  const meter = new TruePeakMeter(48_000);
  const tone = (level: number): Float64Array =>
    Float64Array.from({ length: 4800 }, (_, n) => level * Math.sin((Math.PI * n) / 2 + Math.PI / 4));
  for (const level of [0.1, 0.1, 0.5, 1, 0.1]) {
    const left = tone(level);
    meter.push({ left, right: left.map((value) => value / 2) });
  }
  // The steps in level overshoot a little: the tone alone may read 0.2 dB more at the most.
  expect(20 * Math.log10(meter.result())).toBeGreaterThan(-0.4);
  expect(20 * Math.log10(meter.result())).toBeLessThan(0.5);
});

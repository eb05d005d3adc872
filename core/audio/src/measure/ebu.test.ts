import { describe, expect, it } from 'vitest';
import { atRate } from '../dsp/resample.js';
import type { Block } from '../pcm/block.js';
import { LoudnessMeter, loudnessOverTime } from './loudness.js';
import { TruePeakMeter } from './true-peak.js';

/**
 * The synthetic signals of EBU Tech 3341 (2016) and Tech 3342 (2016), in two channels. Case 6 of Tech 3341 has five
 * channels, which no master has; 7 and 8 are recordings.
 */

/** A stereo 1 kHz sine in steps of [seconds, dBFS]; −Infinity is silence. */
type Steps = readonly (readonly [seconds: number, db: number])[];

function tone(rate: number, steps: Steps): Block {
  const left = new Float64Array(steps.reduce((sum, [seconds]) => sum + Math.round(seconds * rate), 0));
  let at = 0;
  for (const [seconds, db] of steps) {
    const end = at + Math.round(seconds * rate);
    for (; at < end; at++) left[at] = 10 ** (db / 20) * Math.sin((2 * Math.PI * 1000 * at) / rate);
  }
  return { left, right: left };
}

function measured(rate: number, steps: Steps): LoudnessMeter {
  const { left, right } = tone(rate, steps);
  const meter = new LoudnessMeter(rate);
  for (let at = 0; at < left.length; at += 10_007)
    meter.push({ left: left.subarray(at, at + 10_007), right: right.subarray(at, at + 10_007) });
  return meter;
}

const repeat = (times: number, steps: Steps): Steps => Array.from({ length: times }, () => steps).flat();
const near = (found: number | null | undefined, wanted: number, tolerance = 0.1): void =>
  expect(Math.abs((found ?? Infinity) - wanted)).toBeLessThanOrEqual(tolerance);

describe('EBU Tech 3341', () => {
  it.each([44_100, 48_000, 96_000])('cases 1 and 2 at %i Hz: −23 and −33 LUFS in every window', (rate) => {
    for (const level of [-23, -33]) {
      const { integratedLufs, maxMomentaryLufs, maxShortTermLufs } = measured(rate, [[20, level]]).result();
      [integratedLufs, maxMomentaryLufs, maxShortTermLufs].forEach((found) => near(found, level));
    }
  });

  it.each<[number, Steps]>([
    [
      3,
      [
        [10, -36],
        [60, -23],
        [10, -36],
      ],
    ],
    [
      4,
      [
        [10, -72],
        [10, -36],
        [60, -23],
        [10, -36],
        [10, -72],
      ],
    ],
    [
      5,
      [
        [20, -26],
        [20.1, -20],
        [20, -26],
      ],
    ],
  ])('case %i: the gates leave −23 LUFS', (_, steps) => {
    near(measured(48_000, steps).result().integratedLufs, -23);
  });

  it('case 9: short-term is −23 LUFS all along once 3 s have passed', () => {
    const powers = measured(
      48_000,
      repeat(5, [
        [1.34, -20],
        [1.66, -30],
      ]),
    ).powers();
    for (const value of loudnessOverTime(powers, 'short-term').slice(29)) near(value, -23);
  });

  it('case 10: the highest short-term is found wherever the tone begins', () => {
    for (let i = 0; i < 20; i++)
      near(
        measured(48_000, [
          [i * 0.15, -Infinity],
          [3, -23],
          [1, -Infinity],
        ]).result().maxShortTermLufs,
        -23,
      );
  });

  it('case 11: short-term follows from −38 to −19 LUFS', () => {
    const steps = Array.from({ length: 20 }, (_, i): Steps => [
      [i * 0.15, -Infinity],
      [3, -38 + i],
      [3 - i * 0.15, -Infinity],
    ]).flat();
    const values = loudnessOverTime(measured(48_000, steps).powers(), 'short-term');
    for (let i = 0; i < 20; i++) {
      const segment = values.slice(i * 60, (i + 1) * 60).map((value) => value ?? -Infinity);
      near(Math.max(...segment), -38 + i);
    }
  });

  it('case 12: momentary is −23 LUFS all along once a second has passed', () => {
    const powers = measured(
      48_000,
      repeat(25, [
        [0.18, -20],
        [0.22, -30],
      ]),
    ).powers();
    for (const value of loudnessOverTime(powers, 'momentary').slice(9)) near(value, -23);
  });

  it('case 13: the highest momentary is found wherever the tone begins', () => {
    for (let i = 0; i < 20; i++)
      near(
        measured(48_000, [
          [i * 0.02, -Infinity],
          [0.4, -23],
          [1, -Infinity],
        ]).result().maxMomentaryLufs,
        -23,
      );
  });

  it('case 14: momentary follows from −38 to −19 LUFS', () => {
    for (let i = 0; i < 20; i++) {
      const steps: Steps = [
        [i * 0.02, -Infinity],
        [0.4, -38 + i],
        [0.4 - i * 0.02, -Infinity],
      ];
      near(measured(48_000, steps).result().maxMomentaryLufs, -38 + i);
    }
  });

  /** [part of the rate, degrees, amplitude, dBTP] */
  it.each([
    [15, 1 / 4, 0, 0.5, -6],
    [16, 1 / 4, 45, 0.5, -6],
    [17, 1 / 6, 60, 0.5, -6],
    [18, 1 / 8, 67.5, 0.5, -6],
    [19, 1 / 4, 45, 1.41, 3],
  ])(
    'case %i: fs·%f at %f° and %f reads %f dBTP within +0.2/−0.4 dB',
    (_, fraction, degrees, amplitude, wanted) => {
      const left = Float64Array.from({ length: 48_000 }, (__, n) => {
        const edge = Math.min(1, n / 2_400, (47_999 - n) / 2_400);
        return edge * amplitude * Math.sin(2 * Math.PI * fraction * n + (degrees * Math.PI) / 180);
      });
      expectTruePeak({ left, right: new Float64Array(48_000) }, wanted);
    },
  );

  it.each([0, 1, 2, 3])(
    'cases 20 to 23: a peak between samples, %i quarter samples off the grid',
    async (offset) => {
      // At four times the rate a sine of fs/4 and amplitude ½ has one period of amplitude 1; every fourth sample is kept.
      const wide = Float64Array.from({ length: 4 * 9600 }, (_, n) => {
        const m = n + offset - 19_200;
        return (
          (m >= 0 && m < 16 ? 1 : 0.5) *
          Math.sin((2 * Math.PI * m) / 16) *
          Math.min(1, n / 9600, (38_399 - n) / 9600)
        );
      });
      const source = atRate(
        {
          rate: 192_000,
          length: wide.length,
          format: 'float64',
          read: (start, count) => Promise.resolve(cut(wide, start, count)),
        },
        48_000,
      );
      const { left } = await source.read(0, source.length);
      // What the band limit of 48 kHz leaves of the pulse, seen sixteen times as finely by the resampler itself.
      const fine = await atRate(
        {
          rate: 48_000,
          length: left.length,
          format: 'float64',
          read: (start, count) => Promise.resolve(cut(left, start, count)),
        },
        384_000,
      ).read(0, left.length * 8);
      const wanted = 20 * Math.log10(fine.left.reduce((most, value) => Math.max(most, Math.abs(value)), 0));
      expectTruePeak({ left, right: new Float64Array(left.length) }, wanted);
    },
  );
});

function cut(audio: Float64Array, start: number, count: number): Block {
  const left = Float64Array.from({ length: count }, (_, i) => audio[start + i] ?? 0);
  return { left, right: left };
}

function expectTruePeak({ left, right }: Block, wanted: number): void {
  const meter = new TruePeakMeter(48_000);
  for (let at = 0; at < left.length; at += 999)
    meter.push({ left: left.subarray(at, at + 999), right: right.subarray(at, at + 999) });
  const error = 20 * Math.log10(meter.result()) - wanted;
  expect(error).toBeLessThan(0.2);
  expect(error).toBeGreaterThan(-0.4);
}

describe('EBU Tech 3342', () => {
  it.each<[number, number, Steps]>([
    [
      1,
      10,
      [
        [20, -20],
        [20, -30],
      ],
    ],
    [
      2,
      5,
      [
        [20, -20],
        [20, -15],
      ],
    ],
    [
      3,
      20,
      [
        [20, -40],
        [20, -20],
      ],
    ],
    [
      4,
      15,
      [
        [20, -50],
        [20, -35],
        [20, -20],
        [20, -35],
        [20, -50],
      ],
    ],
  ])('case %i: a range of %i LU ±1', (_, range, steps) => {
    near(measured(48_000, steps).result().loudnessRangeLu, range, 1);
  });
});

describe('silence', () => {
  it('has no loudness', () => {
    expect(measured(48_000, [[4, -Infinity]]).result()).toEqual({
      integratedLufs: null,
      loudnessRangeLu: null,
      maxMomentaryLufs: null,
      maxShortTermLufs: null,
    });
  });
});

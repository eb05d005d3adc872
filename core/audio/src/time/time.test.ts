import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SAMPLE_RATES } from '../pcm/rates.js';
import { ceilToFrame, floorToFrame, formatMsf, frames, framesToTicks, parseMsf } from './frames.js';
import { formatClock, parseTime } from './timecode.js';
import { samples, samplesToTicks, secondsToTicks, ticks, ticksToSamples } from './ticks.js';

describe('ticks', () => {
  it.each([
    [44_100, 16_000],
    [48_000, 14_700],
    [88_200, 8_000],
    [96_000, 7_350],
    [176_400, 4_000],
    [192_000, 3_675],
  ])('divide a sample at %i Hz into %i (docs/rules.md 1.1)', (rate, perSample) => {
    expect(samplesToTicks(samples(1), rate)).toBe(perSample);
    expect(ticksToSamples(ticks(perSample), rate)).toBe(1);
  });

  it('round to the nearest sample, halves up', () => {
    expect(ticksToSamples(ticks(7_999), 44_100)).toBe(0);
    expect(ticksToSamples(ticks(8_000), 44_100)).toBe(1);
    expect(ticksToSamples(ticks(-8_000), 44_100)).toBe(0);
    expect(ticksToSamples(ticks(-8_001), 44_100)).toBe(-1);
  });

  it('bring every sample position of a day back exactly, at every rate', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...SAMPLE_RATES),
        fc.integer({ min: -1000, max: 86_400 * 384_000 }),
        (rate, position) => {
          expect(ticksToSamples(samplesToTicks(samples(position), rate), rate)).toBe(position);
        },
      ),
    );
  });

  it('never lie further than half a sample from the time', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(44_100, 48_000, 96_000),
        fc.integer({ min: 0, max: 5_000 * 705_600_000 }),
        (rate, time) => {
          const back = samplesToTicks(ticksToSamples(ticks(time), rate), rate);
          expect(Math.abs(back - time)).toBeLessThanOrEqual(705_600_000 / rate / 2);
        },
      ),
    );
  });
});

describe('CD frames', () => {
  it('are written MM:SS:FF', () => {
    expect(formatMsf(frames(0))).toBe('00:00:00');
    expect(formatMsf(frames(150))).toBe('00:02:00');
    // 79:59:74 = (79·60 + 59)·75 + 74
    expect(formatMsf(frames(359_999))).toBe('79:59:74');
    expect(formatMsf(frames(-151))).toBe('−00:02:01');
  });

  it('are read back, and what is none is refused', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 999 * 4500 }), (n) => {
        expect(parseMsf(formatMsf(frames(n)))).toBe(n);
      }),
    );
    for (const wrong of ['00:00:75', '00:60:00', '1:2:3', '00:00', '', 'aa:bb:cc'])
      expect(parseMsf(wrong)).toBeUndefined();
  });

  it('floor and ceil stand on either side of a time', () => {
    // 2.5 s = 187.5 frames
    expect(floorToFrame(secondsToTicks(2.5))).toBe(187);
    expect(ceilToFrame(secondsToTicks(2.5))).toBe(188);
    expect(floorToFrame(framesToTicks(frames(9)))).toBe(9);
    expect(ceilToFrame(framesToTicks(frames(9)))).toBe(9);
  });
});

describe('typed times', () => {
  it.each([
    ['2', 2],
    ['1.4', 1.4],
    ['1,4 s', 1.4],
    ['-0.5', -0.5],
    ['−0.5', -0.5],
    ['250 ms', 0.25],
    ['1:02.5', 62.5],
    ['00:02:00', 2],
    ['00:00:15', 0.2],
  ])('%s is %f s', (text, seconds) => expect(parseTime(text)).toBe(secondsToTicks(seconds)));

  it.each(['', 'two', '1:99', '1.2.3', '--1', 's'])('“%s” is no time', (text) =>
    expect(parseTime(text)).toBeUndefined(),
  );

  it('are shown as a clock', () => {
    expect(formatClock(secondsToTicks(62.5))).toBe('1:03');
    expect(formatClock(secondsToTicks(62.5), 1)).toBe('1:02.5');
    expect(formatClock(secondsToTicks(59.96), 1)).toBe('1:00.0');
    expect(formatClock(secondsToTicks(3725), 0)).toBe('1:02:05');
    expect(formatClock(secondsToTicks(-1), 2)).toBe('−0:01.00');
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { secondsToTicks, ticks, ticksToSeconds, parseTime } from '@oiseau/audio/time';
import { beatLength, beatsBetween, beginsBar, tempoOfTaps } from './tempo.js';

const s = secondsToTicks;

describe('beats', () => {
  it('are half a second long at 120 a minute, and carry on past the end of the song', () => {
    const tempo = { bpm: 120, beat: s(0.25), bar: 4 };
    expect(beatLength(tempo)).toBe(s(0.5));
    // The master would start at 10 s, so beats stand at 10.25 + n/2.
    const found = beatsBetween(tempo, s(10), s(11), s(12.75));
    expect(found.map(({ time }) => ticksToSeconds(time))).toEqual([11.25, 11.75, 12.25]);
    expect(found.map((beat) => [beat.number, beginsBar(beat, tempo)])).toEqual([
      [2, false],
      [3, false],
      [4, true],
    ]);
    expect(beatsBetween(tempo, s(10), s(12.75), s(12.75))).toEqual([]);
  });

  it('before the first one count backwards, bars as well', () => {
    const tempo = { bpm: 60, beat: s(5), bar: 3 };
    const found = beatsBetween(tempo, s(0), s(0.5), s(3));
    expect(found.map((beat) => [ticksToSeconds(beat.time), beginsBar(beat, tempo)])).toEqual([
      [1, false],
      [2, true],
    ]);
  });

  it('do not drift: the thousandth is a thousand beats away', () => {
    fc.assert(
      fc.property(fc.double({ min: 20, max: 400, noNaN: true }), (bpm) => {
        const tempo = { bpm, beat: ticks(0), bar: 4 };
        const wanted = (1000 * 60) / bpm;
        const [beat] = beatsBetween(tempo, ticks(0), s(wanted - 0.001), s(wanted + 0.001));
        expect(beat?.number).toBe(1000);
        expect(Math.abs((beat?.time ?? 0) - s(wanted))).toBeLessThanOrEqual(1);
      }),
    );
  });

  it('are typed where there is a tempo', () => {
    expect(parseTime('2 beats', s(0.5))).toBe(s(1));
    expect(parseTime('1 beat', s(0.75))).toBe(s(0.75));
    expect(parseTime('−1,5 beats', s(0.5))).toBe(s(-0.75));
    expect(parseTime('2 beats')).toBeUndefined();
    expect(parseTime('2', s(0.5))).toBe(s(2));
  });
});

describe('tapping', () => {
  it('draws the straight line through the taps', () => {
    // 0.5 s apart, every second one 20 ms late.
    const found = tempoOfTaps([3, 3.52, 4, 4.52, 5, 5.52, 6]);
    expect(found?.bpm).toBeCloseTo(120, 1);
    // The taps lie 20·3/7 ms late in the mean.
    expect(found?.firstBeat).toBeCloseTo(3 + 0.06 / 7, 3);
  });

  it('sees a beat that was left out', () => {
    expect(tempoOfTaps([0, 0.6, 1.2, 2.4, 3, 3.6])?.bpm).toBeCloseTo(100, 6);
  });

  it('is none of two taps, of one moment, or faster than anybody counts', () => {
    expect(tempoOfTaps([1, 1.5])).toBeNull();
    expect(tempoOfTaps([1, 1, 1])).toBeNull();
    expect(tempoOfTaps([1, 1.05, 1.1, 1.15])).toBeNull();
  });

  it('finds any tempo from taps that are exact', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 21, max: 390, noNaN: true }),
        fc.integer({ min: 3, max: 30 }),
        (bpm, count) => {
          const found = tempoOfTaps(Array.from({ length: count }, (_, i) => 2 + (i * 60) / bpm));
          expect(found?.bpm).toBeCloseTo(bpm, 6);
          expect(found?.firstBeat).toBeCloseTo(2, 6);
        },
      ),
    );
  });
});

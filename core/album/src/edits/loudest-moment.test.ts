import { describe, expect, it } from 'vitest';
import { secondsToTicks, ticksToSeconds } from '@oiseau/audio/time';
import { sequence, sequenced } from '../testing.js';
import { limiterForecast, matchedGains } from './levels.js';
import { loudestMoment, placedMoment } from './loudest-moment.js';
import { place } from '../layout/placement.js';

const s = secondsToTicks;
/** 60 s, loudest from 20 to 23 s. */
const powers = Float32Array.from({ length: 600 }, (_, i) => (i >= 200 && i < 230 ? 0.1 : 0.001));

describe('the loudest moment', () => {
  it('is six seconds around the three that are loudest, within what is played', () => {
    const of = (change: object): number[] => {
      const { start, end } = loudestMoment(sequenced('a', 60, change), powers);
      return [ticksToSeconds(start), ticksToSeconds(end)].map((at) => Math.round(10 * at) / 10);
    };
    expect(of({})).toEqual([18.5, 24.5]);
    expect(of({ in: s(20) })).toEqual([20, 26]);
    expect(of({ out: s(24) })).toEqual([18, 24]);
    // What is not played is not heard.
    expect(of({ in: s(30) })[0]).toBeGreaterThanOrEqual(30);
    expect(of({ in: s(30), out: s(33) })).toEqual([30, 33]);
  });

  it('is where it was moved to by hand', () => {
    const song = sequenced('a', 60, { loudest: s(42) });
    expect(ticksToSeconds(loudestMoment(song, powers).start)).toBe(42);
  });

  it('has its place in the part', () => {
    const song = sequenced('a', 60, { in: s(10) });
    const found = placedMoment(song, place(sequence(song)), powers);
    // Two seconds of pause, and 8.5 s into what is played.
    expect(ticksToSeconds(found?.start ?? s(0))).toBeCloseTo(10.5, 6);
  });
});

describe('a limiter that would be needed', () => {
  const model = { integratedLufs: -12, truePeakDbtp: -1, gainDb: 0, length: 60 };
  const quiet = { integratedLufs: -18, truePeakDbtp: -3, gainDb: 0, length: 60 };
  /** Peaks of 1/75 s: over −7 dBFS twice, once for two of them. */
  const peaks = [0.1, 0.5, 0.5, 0.1, 0.7, 0.1];
  const outline = { length: 6, over: (from: number) => ({ peak: peaks[from] ?? 0, rms: 0 }) };

  it('is told with the gain that is wished, what it would take and how often', () => {
    // 6 dB are wished for and 2 are free: 4 over the ceiling.
    expect(matchedGains([model, quiet], 0, -1)).toEqual([0, 2]);
    const found = limiterForecast(quiet, model, -1, outline);
    expect(found).toMatchObject({ gainDb: 6, times: 2 });
    expect(found?.mostDb).toBeCloseTo(4, 9);
  });

  it('is none where there is room, or one is there already', () => {
    expect(limiterForecast({ ...quiet, truePeakDbtp: -8 }, model, -1, outline)).toBeNull();
    expect(limiterForecast({ ...quiet, isLimited: true }, model, -1, outline)).toBeNull();
    expect(matchedGains([model, { ...quiet, isLimited: true }], 0, -1)).toEqual([0, 6]);
  });
});

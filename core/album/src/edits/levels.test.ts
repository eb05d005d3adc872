import { describe, expect, it } from 'vitest';
import { albumLoudness, matchedGains, type TrackLevel } from './levels.js';

const level = (
  integratedLufs: number | null,
  truePeakDbtp: number | null,
  gainDb = 0,
  length = 100,
): TrackLevel => ({
  integratedLufs,
  truePeakDbtp,
  gainDb,
  length,
});

describe('matched gains', () => {
  it('bring every track to the loudness of one, as it is with its gain', () => {
    const tracks = [level(-14, -2, -1), level(-18, -8), level(-12.34, -1, 3)];
    // −15 LUFS: 3 dB up, 2.66 dB down and so 2.7 in tenths, never louder
    expect(matchedGains(tracks, 0, -1)).toEqual([-1, 3, -2.7]);
  });
  it('lift no peak over the ceiling', () => {
    // 6 dB would be wanted; from −3.2 dBTP only 2.2 are left to −1.
    expect(matchedGains([level(-12, -1), level(-18, -3.2)], 0, -1)).toEqual([0, 2.2]);
    expect(matchedGains([level(-12, -1), level(-18, 0.5)], 0, -1)).toEqual([0, -1.5]);
  });
  it('leave alone what is silent, and everything when the model is', () => {
    expect(matchedGains([level(-12, -1), level(null, null, 2)], 0, -1)).toEqual([0, 2]);
    expect(matchedGains([level(null, null), level(-20, -9, 1)], 0, -1)).toEqual([0, 1]);
  });
});

describe('loudness of the album', () => {
  it('is that of all tracks for as long as each lasts', () => {
    expect(albumLoudness([level(-14, 0), level(-14, 0)])).toBeCloseTo(-14, 9);
    // Equal powers over half the time and nothing near them in the other: 3.01 dB less
    expect(albumLoudness([level(-14, 0), level(-80, 0)])).toBeCloseTo(-17.01, 2);
    expect(albumLoudness([level(-20, 0, 6), level(null, null)])).toBeCloseTo(-14, 9);
    expect(albumLoudness([])).toBeNull();
  });
});

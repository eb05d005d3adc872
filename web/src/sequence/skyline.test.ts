import { framesToTicks, frames, secondsToTicks, type Layout } from '@oiseau/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { trackAt } from '../player/track-at.js';
import { RIGHT, timeAt, xOf } from './skyline.js';

const s = secondsToTicks;
/** Two songs, 2–10 s and 9–20 s, on a disc of 20 s. */
const layout: Layout = {
  tracks: [
    { audioStart: s(2), audioEnd: s(10), startMark: frames(150), pause: null, indexes: [] },
    { audioStart: s(9), audioEnd: s(20), startMark: frames(675), pause: null, indexes: [] },
  ],
  end: s(20),
  leadOut: frames(1500),
};

describe('Skyline', () => {
  it('is to scale from the start of the disc to the lead-out', () => {
    expect(xOf(layout, 0, 1000 + RIGHT)).toBe(0);
    expect(xOf(layout, s(5), 1000 + RIGHT)).toBe(250);
    expect(xOf(layout, framesToTicks(frames(1500)), 1000 + RIGHT)).toBe(1000);
  });
  it('finds the time under the pointer, never outside the disc', () => {
    expect(timeAt(layout, -50, 1000 + RIGHT)).toBe(0);
    expect(timeAt(layout, 5000, 1000 + RIGHT)).toBe(s(20));
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1000 }), (x) => {
        expect(xOf(layout, timeAt(layout, x, 1000 + RIGHT), 1000 + RIGHT)).toBeCloseTo(x, 5);
      }),
    );
  });
  it('knows which song sounds: the later one in an overlap, none in a pause', () => {
    expect([0, 2, 8.9, 9, 10, 19.99, 20].map((time) => trackAt(layout, s(time)))).toEqual([
      null,
      0,
      0,
      1,
      1,
      1,
      null,
    ]);
  });
});

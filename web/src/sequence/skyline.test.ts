import { framesToTicks, frames, secondsToTicks, type Layout } from '@oiseau/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { trackAt } from '../player/track-at.js';
import { discView, panned, placeAt, RIGHT, timeAt, xOf, zoomed } from './skyline.js';

const s = secondsToTicks;
/** Two songs, 2–10 s and 9–20 s, on a disc of 20 s. */
const layout: Layout = {
  hidden: null,
  tracks: [
    { audioStart: s(2), audioEnd: s(10), startMark: frames(150), pause: null, indexes: [] },
    { audioStart: s(9), audioEnd: s(20), startMark: frames(675), pause: null, indexes: [] },
  ],
  end: s(20),
  leadOut: frames(1500),
};

const disc = discView(layout);

describe('Skyline', () => {
  it('is to scale from the start of the disc to the lead-out', () => {
    expect(xOf(disc, 0, 1000 + RIGHT)).toBe(0);
    expect(xOf(disc, s(5), 1000 + RIGHT)).toBe(250);
    expect(xOf(disc, framesToTicks(frames(1500)), 1000 + RIGHT)).toBe(1000);
  });
  it('finds the time under the pointer, never outside the disc', () => {
    expect(timeAt(disc, -50, 1000 + RIGHT)).toBe(0);
    expect(timeAt(disc, 5000, 1000 + RIGHT)).toBe(s(20));
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1000 }), (x) => {
        expect(xOf(disc, timeAt(disc, x, 1000 + RIGHT), 1000 + RIGHT)).toBeCloseTo(x, 5);
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
  it('knows the hidden song, but a track that sounds over its end before it', () => {
    const hidden = { audioStart: s(0.5), audioEnd: s(3) };
    expect([0, 0.5, 1.99, 2, 2.99].map((time) => trackAt({ ...layout, hidden }, s(time)))).toEqual([
      null,
      -1,
      -1,
      0,
      0,
    ]);
  });
  it('is zoomed around a time that stays where it is, from the disc to a minute', () => {
    const long: Layout = { ...layout, end: s(1000), leadOut: frames(75_000) };
    const whole = discView(long);
    const closer = zoomed(whole, 0.5, s(250), long);
    expect([closer.from, closer.until]).toEqual([s(125), s(625)]);
    expect(xOf(closer, s(250), 1000 + RIGHT)).toBe(250);
    expect(zoomed(closer, 1e-6, s(250), long)).toEqual({ from: s(235), until: s(295) });
    expect(zoomed(closer, 9, s(250), long)).toEqual(whole);
    expect(panned(closer, 10, long)).toEqual({ from: s(500), until: s(1000) });
    expect(panned(closer, -0.1, long)).toEqual({ from: s(75), until: s(575) });
    // A disc shorter than a minute is seen whole.
    expect(zoomed(disc, 0.5, s(5), layout)).toEqual(disc);
  });
  it('knows where a dragged track would go', () => {
    const three: Layout = {
      ...layout,
      tracks: [
        ...layout.tracks,
        { audioStart: s(22), audioEnd: s(30), startMark: frames(1650), pause: null, indexes: [] },
      ],
    };
    // Middles at 6, 14.5 and 26 s
    expect([0, 10, 20, 29].map((time) => placeAt(three, 0, s(time)))).toEqual([0, 0, 1, 2]);
    expect([0, 10, 20, 29].map((time) => placeAt(three, 2, s(time)))).toEqual([0, 1, 2, 2]);
  });
});

import { framesToTicks, frames, secondsToTicks, ticks } from '@oiseau/audio/time';
import { layOutAlbum, type Part, songAt } from '@oiseau/album/layout';
import { album, discOf, type SongChange } from '@oiseau/album/testing';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  heightOf,
  panned,
  placeAt,
  RIGHT,
  rowAt,
  roomIn,
  rowsOf,
  timeAt,
  wholeView,
  xOf,
  zoomed,
} from './skyline.js';

const s = secondsToTicks;
/** Two songs, 2–10 s and 9–20 s, on a disc of 20 s. */
const SONGS: SongChange[] = [{ out: s(8) }, { out: s(11), gapBefore: s(-1) }];
const layout: Part = discOf(album(...SONGS));
const sounding = (of: Part, seconds: number): string | null => songAt(of.placement, s(seconds));

const disc = wholeView([layout]);

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
    expect([0, 2, 8.9, 9, 10, 19.99, 20].map((time) => sounding(layout, time))).toEqual([
      ...[null, 't1', 't1', 't2', 't2', 't2'],
      null,
    ]);
  });
  it('knows the hidden song, but a track that sounds over its end before it', () => {
    // It sounds from 0.5 to 3 s, track 1 from 2 s on.
    const hidden = discOf(album({ numbered: false, gapBefore: s(0.5), out: s(2.5) }, { gapBefore: s(-1) }));
    expect([0, 0.5, 1.99, 2, 2.99].map((time) => sounding(hidden, time))).toEqual([
      ...[null, 't1', 't1', 't2', 't2'],
    ]);
  });
  it('is zoomed around a time that stays where it is, from the disc to a minute', () => {
    const whole = { start: ticks(0), end: s(1000) };
    const long = discOf({ ...album(...SONGS), endPause: s(980) });
    expect(wholeView([long])).toEqual(whole);
    const closer = zoomed(whole, 0.5, s(250), whole);
    expect([closer.start, closer.end]).toEqual([s(125), s(625)]);
    expect(xOf(closer, s(250), 1000 + RIGHT)).toBe(250);
    expect(zoomed(closer, 1e-6, s(250), whole)).toEqual({ start: s(235), end: s(295) });
    expect(zoomed(closer, 9, s(250), whole)).toEqual(whole);
    expect(panned(closer, 10, whole)).toEqual({ start: s(500), end: s(1000) });
    expect(panned(closer, -0.1, whole)).toEqual({ start: s(75), end: s(575) });
    // A disc shorter than a minute is seen whole.
    expect(zoomed(disc, 0.5, s(5), disc)).toEqual(disc);
  });
  it('knows where a dragged track would go', () => {
    const three = discOf(album(...SONGS, { out: s(8) }));
    // Middles at 6, 14.5 and 26 s
    expect([0, 10, 20, 29].map((time) => placeAt(three, 't1', s(time)))).toEqual([0, 0, 1, 2]);
    expect([0, 10, 20, 29].map((time) => placeAt(three, 't3', s(time)))).toEqual([0, 1, 2, 2]);
  });

  it('has a ground line for each part, all to the scale of the longest', () => {
    const opens = (first: string) => ({ medium: 'cd' as const, first, title: '', upc: '', limit: null });
    const album3 = {
      ...album({ out: s(30) }, { out: s(60) }, { out: s(10) }),
      parts: ['t1', 't2', 't3'].map(opens),
    };
    const parts = layOutAlbum(album3, new Map([['ab'.repeat(32), { rate: 44_100, length: 44_100 * 60 }]]));
    // Each disc begins with two seconds.
    expect(wholeView(parts)).toEqual({ start: 0, end: s(62) });
    const rows = rowsOf(parts, 2);
    expect(rows.map(({ top }) => top)).toEqual([0, 64, 168]);
    expect(heightOf(rows)).toBe(232);
    expect([-5, 10, 64, 167, 168, 900].map((y) => rowAt(rows, y)?.part.number)).toEqual([1, 1, 2, 2, 3, 3]);
    // Of many the others are low, and the one in hand is not.
    const many = rowsOf(
      Array.from({ length: 11 }, (_, i) => ({ ...parts[0], number: i + 1 })),
      4,
    );
    expect(many.map(({ height }) => height)).toEqual([16, 16, 16, 104, 16, 16, 16, 16, 16, 16, 16]);
    expect(rowsOf([layout], 1)).toMatchObject([{ top: 0, height: 160 }]);
    // In a window of 1200 pixels there is half as much room again; in a low one no less, in a huge one twice as much.
    expect([600, 800, 1200, 2400].map(roomIn)).toEqual([1, 1, 1.5, 2]);
    expect(rowsOf([layout], 1, 1.5)).toMatchObject([{ top: 0, height: 240 }]);
    expect(heightOf(rowsOf(parts, 2, 1.5))).toBe(348);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { album } from '../testing.js';
import { secondsToTicks, ticks } from '../time/ticks.js';
import { layOutAlbum } from './resolve.js';
import { transitionSpan } from './transition.js';
import { hideFirstTrack } from './edit.js';
import {
  addIndex,
  crossfade,
  holdFrom,
  setFade,
  setGap,
  setOut,
  setPause,
  setStartMark,
  startAt,
  trimIn,
  waitBars,
} from './spacing.js';

const s = secondsToTicks;
/** Every master lasts 60 s. */
const masters = new Map([['ab'.repeat(32), { rate: 44_100, length: 60 * 44_100 }]]);
const starts = (of: ReturnType<typeof album>): number[] =>
  layOutAlbum(of, masters).layout.tracks.map(({ audioStart }) => audioStart);
const two = album({ out: s(40) }, { in: s(5), out: s(30) }, {});

describe('spacing', () => {
  it('moves an out point within its master; what follows moves along', () => {
    // 2 s + 40 s + 2 s, then 35 s
    expect(starts(two)[1]).toBe(s(44));
    const longer = setOut(two, 0, s(45.5), masters);
    expect(longer.tracks[0]?.out).toBe(s(45.5));
    expect(starts(longer)[1]).toBe(s(49.5));
    expect(setOut(two, 0, s(99), masters).tracks[0]?.out).toBe(s(60));
    expect(setOut(two, 1, s(1), masters).tracks[1]?.out).toBe(s(5.01));
  });

  it('moves an in point and leaves the sound where it is', () => {
    const trimmed = trimIn(two, 1, s(6.5), masters);
    expect(trimmed.tracks[1]).toMatchObject({ in: s(6.5), gapBefore: s(3.5) });
    const [, , third] = starts(two);
    expect(starts(trimmed)[2]).toBe(third);
    expect(trimIn(two, 1, s(-1), masters).tracks[1]).toMatchObject({ in: 0, gapBefore: s(-3) });
  });

  it('lets a gap be an overlap, but not before track 1', () => {
    expect(setGap(two, 1, s(-3)).tracks[1]?.gapBefore).toBe(s(-3));
    expect(setGap(two, 0, s(-3)).tracks[0]?.gapBefore).toBe(0);
  });

  it('keeps both fades within the track', () => {
    const faded = setFade(
      setFade(two, 1, 'fadeIn', { length: s(20) }, masters),
      1,
      'fadeOut',
      { length: s(9), shape: 'slow' },
      masters,
    );
    // 25 s of track: 20 s in, 5 s out
    expect(faded.tracks[1]).toMatchObject({
      fadeIn: { length: s(20) },
      fadeOut: { length: s(5), shape: 'slow' },
    });
    const shorter = setOut(faded, 1, s(15), masters);
    expect(shorter.tracks[1]).toMatchObject({ fadeIn: { length: s(10) }, fadeOut: { length: 0 } });
  });

  it('makes a clean crossfade of a length', () => {
    const crossed = crossfade(two, 1, s(4), masters);
    expect(crossed.tracks[0]?.fadeOut).toEqual({ length: s(4), shape: 'equal-power' });
    expect(crossed.tracks[1]).toMatchObject({
      gapBefore: s(-4),
      fadeIn: { length: s(4), shape: 'equal-power' },
    });
    // Never longer than the shorter of the two: 25 s
    expect(crossfade(two, 1, s(50), masters).tracks[1]?.gapBefore).toBe(s(-25));
    expect(crossfade(two, 0, s(4), masters)).toBe(two);
  });

  it('waits bars of the song before, from wherever the next one starts', () => {
    const tempo = { bpm: 90, bar: 3, beat: ticks(0) };
    const timed = album({ tempo }, { gapBefore: s(0.25) }, {});
    // A bar of three beats at 90 a minute lasts 2 s.
    expect(waitBars(timed, 1, 2).tracks[1]?.gapBefore).toBe(s(4.25));
    expect(waitBars(timed, 1, -1).tracks[1]?.gapBefore).toBe(s(-1.75));
    expect(waitBars(timed, 2, 1)).toBe(timed);
    expect(waitBars(timed, 0, 1)).toBe(timed);
  });

  it('moves a track so that its start mark stands where it is wanted', () => {
    const led = { ...two, markLead: s(0.2) };
    const { layout } = layOutAlbum(led, masters);
    // Track 2 starts at 44 s, its mark at 43.8 s.
    const moved = startAt(led, 1, s(50), layout);
    expect(moved.tracks[1]?.gapBefore).toBe(s(8.2));
    expect(layOutAlbum(moved, masters).layout.tracks[1]?.startMark).toBe(50 * 75);
  });

  it('sets a start mark on its own, on a frame, between the mark before and the end of the audio', () => {
    const { layout } = layOutAlbum(two, masters);
    const mark = (seconds: number): number | undefined => {
      const set = setStartMark(two, 1, s(seconds), layout);
      return layOutAlbum(set, masters).layout.tracks[1]?.startMark;
    };
    // 43.51 s are 3263.25 frames.
    expect(mark(43.51)).toBe(3263);
    expect(setStartMark(two, 1, s(43.5), layout).tracks[1]?.markLead).toBe(s(44) - 3262 * 9_408_000);
    expect(mark(46)).toBe(3450);
    // Not before the mark of track 1 at frame 150, nor at the end of the audio at 69 s.
    expect(mark(0)).toBe(151);
    expect(mark(100)).toBe(69 * 75 - 1);
    expect(setStartMark(two, 0, s(1), layout).tracks[0]?.markLead).toBe(0);
  });

  it('sets a pause on its own, never behind the start mark', () => {
    const { layout } = layOutAlbum(two, masters);
    const pause = (seconds: number): number | null | undefined =>
      layOutAlbum(setPause(two, 1, s(seconds), layout), masters).layout.tracks[1]?.pause;
    // The song before ends at 42 s, this one starts at 44 s.
    expect([pause(43), pause(41.2), pause(44), pause(50)]).toEqual([43 * 75, 41.2 * 75, null, null]);
    expect(setPause(two, 0, s(1), layout)).toBe(two);
  });

  it('sets index points in order, after the start mark and within the audio', () => {
    const { layout } = layOutAlbum(two, masters);
    const at = (of: typeof two, seconds: number) => addIndex(of, 1, s(seconds), layout);
    const both = at(at(two, 60), 50.005);
    // 50.005 s are 3750.375 frames, rounded down to 50 s: 6 s after the start mark at 44 s.
    expect(both.tracks[1]?.indexes).toEqual([s(6), s(16)]);
    expect(at(both, 50)).toBe(both);
    expect(at(two, 44)).toBe(two);
    expect(at(two, 69)).toBe(two);
    expect(addIndex(two, 9, s(50), layout)).toBe(two);
  });

  it('trims, fades and crosses a hidden song like any other', () => {
    const hidden = hideFirstTrack(two);
    expect(setOut(hidden, -1, s(20), masters).hidden?.out).toBe(s(20));
    expect(trimIn(hidden, -1, s(1), masters).hidden).toMatchObject({ in: s(1), gapBefore: s(3) });
    expect(setGap(hidden, -1, s(-1)).hidden?.gapBefore).toBe(0);
    // What follows it may overlap it.
    expect(setGap(hidden, 0, s(-1)).tracks[0]?.gapBefore).toBe(s(-1));
    const crossed = crossfade(hidden, 0, s(3), masters);
    expect([crossed.hidden?.fadeOut.length, crossed.tracks[0]?.fadeIn.length]).toEqual([s(3), s(3)]);
  });

  it('holds everything after an edit in place when asked', () => {
    const { layout } = layOutAlbum(two, masters);
    const held = holdFrom(setOut(two, 0, s(45.5), masters), 1, layout, masters);
    expect(starts(held)).toEqual(starts(two));
    expect(held.tracks[1]?.gapBefore).toBe(s(-3.5));
  });

  it('never makes a region or a fade that a check would refuse, whatever is asked', () => {
    const times = fc.integer({ min: -100_000, max: 100_000 }).map((ms) => s(ms / 1000));
    fc.assert(
      fc.property(times, times, times, times, (out, start, fade, cross) => {
        const edited = crossfade(
          setFade(
            trimIn(setOut(two, 1, out, masters), 1, start, masters),
            1,
            'fadeOut',
            { length: fade },
            masters,
          ),
          1,
          ticks(Math.abs(cross)),
          masters,
        );
        const track = edited.tracks[1]!;
        expect(track.in).toBeGreaterThanOrEqual(0);
        expect(track.out).toBeLessThanOrEqual(s(60));
        expect(track.out! - track.in).toBeGreaterThan(0);
        expect(track.fadeIn.length + track.fadeOut.length).toBeLessThanOrEqual(track.out! - track.in);
      }),
    );
  });
});

describe('what is heard of a transition', () => {
  const span = (of: ReturnType<typeof album>, index: number, around: number) => {
    const found = transitionSpan(layOutAlbum(of, masters).layout, index, s(around));
    return found && [found.from / s(1), found.until / s(1)];
  };
  it('reaches around the gap, or the overlap, but not beyond the two tracks', () => {
    // Track 1 sounds from 2 to 42 s, track 2 from 44 to 69 s.
    expect(span(two, 1, 4)).toEqual([38, 48]);
    expect(span(setGap(two, 1, s(-3)), 1, 4)).toEqual([35, 46]);
    expect(span(two, 1, 100)).toEqual([2, 69]);
    expect(span(two, 0, 4)).toEqual([0, 6]);
    expect(span(two, 3, 4)).toBeNull();
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { secondsToTicks, ticks } from '@oiseau/audio/time';
import { album, flat } from '../testing.js';
import { layOutAlbum } from '../layout/part.js';
import { transitionSpan } from '../layout/transition.js';
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
  startOnLastBeat,
  trimIn,
  waitBars,
} from './spacing.js';

const s = secondsToTicks;
/** Every master lasts 60 s. */
const masters = new Map([['ab'.repeat(32), { rate: 44_100, length: 60 * 44_100 }]]);
const starts = (of: ReturnType<typeof album>): number[] =>
  [...layOutAlbum(of, masters)[0].placement.songs.values()].map(({ start }) => start);
const marks = (of: ReturnType<typeof album>, id: string) => layOutAlbum(of, masters)[0].disc?.tracks.get(id);
const two = album({ out: s(40) }, { in: s(5), out: s(30) }, {});

describe('spacing', () => {
  it('moves an out point within its master; what follows moves along', () => {
    // 2 s + 40 s + 2 s, then 35 s
    expect(starts(two)[1]).toBe(s(44));
    const longer = setOut(two, 't1', s(45.5), masters);
    expect(flat(longer, 0).out).toBe(s(45.5));
    expect(starts(longer)[1]).toBe(s(49.5));
    expect(flat(setOut(two, 't1', s(99), masters), 0).out).toBe(s(60));
    expect(flat(setOut(two, 't2', s(1), masters), 1).out).toBe(s(5.01));
  });

  it('moves an in point and leaves the sound where it is', () => {
    const trimmed = trimIn(two, 't2', s(6.5), masters);
    expect(flat(trimmed, 1)).toMatchObject({ in: s(6.5), gapBefore: s(3.5) });
    const [, , third] = starts(two);
    expect(starts(trimmed)[2]).toBe(third);
    expect(flat(trimIn(two, 't2', s(-1), masters), 1)).toMatchObject({ in: 0, gapBefore: s(-3) });
  });

  it('lets a gap be an overlap, but not before track 1', () => {
    expect(flat(setGap(two, 't2', s(-3)), 1).gapBefore).toBe(s(-3));
    expect(flat(setGap(two, 't1', s(-3)), 0).gapBefore).toBe(0);
  });

  it('keeps both fades within the track', () => {
    const faded = setFade(
      setFade(two, 't2', 'fadeIn', { length: s(20) }, masters),
      't2',
      'fadeOut',
      { length: s(9), shape: 'slow' },
      masters,
    );
    // 25 s of track: 20 s in, 5 s out
    expect(flat(faded, 1)).toMatchObject({
      fadeIn: { length: s(20) },
      fadeOut: { length: s(5), shape: 'slow' },
    });
    const shorter = setOut(faded, 't2', s(15), masters);
    expect(flat(shorter, 1)).toMatchObject({ fadeIn: { length: s(10) }, fadeOut: { length: 0 } });
  });

  it('makes a clean crossfade of a length', () => {
    const crossed = crossfade(two, 't2', s(4), masters);
    expect(flat(crossed, 0).fadeOut).toEqual({ length: s(4), shape: 'equal-power' });
    expect(flat(crossed, 1)).toMatchObject({
      gapBefore: s(-4),
      fadeIn: { length: s(4), shape: 'equal-power' },
    });
    // Never longer than the shorter of the two: 25 s
    expect(flat(crossfade(two, 't2', s(50), masters), 1).gapBefore).toBe(s(-25));
    expect(crossfade(two, 't1', s(4), masters)).toBe(two);
  });

  it('waits bars of the song before, from wherever the next one starts', () => {
    const tempo = { bpm: 90, bar: 3, beat: ticks(0) };
    const timed = album({ tempo }, { gapBefore: s(0.25) }, {});
    // A bar of three beats at 90 a minute lasts 2 s.
    expect(flat(waitBars(timed, 't2', 2), 1).gapBefore).toBe(s(4.25));
    expect(flat(waitBars(timed, 't2', -1), 1).gapBefore).toBe(s(-1.75));
    expect(waitBars(timed, 't3', 1)).toBe(timed);
    expect(waitBars(timed, 't1', 1)).toBe(timed);
  });

  it('starts on the last beat before the end of the song before', () => {
    // Beats each 0.75 s from 0.25 s on; song 1 is heard from 1 s to 40 s of its master: the last beat before that is 39.25 s.
    const tempo = { bpm: 80, bar: 4, beat: s(0.25) };
    const timed = album({ tempo, in: s(1), out: s(40) }, { gapBefore: s(2) }, {});
    const [part] = layOutAlbum(timed, masters);
    expect(flat(startOnLastBeat(timed, 't2', part), 1).gapBefore).toBe(s(-0.75));
    expect(startOnLastBeat(timed, 't3', part)).toBe(timed);
    // The end itself stands on a beat: the one before it counts.
    const onBeat = album({ tempo: { ...tempo, beat: s(0) }, out: s(30) }, {});
    expect(flat(startOnLastBeat(onBeat, 't2', layOutAlbum(onBeat, masters)[0]), 1).gapBefore).toBe(s(-0.75));
  });

  it('moves a track so that its start mark stands where it is wanted', () => {
    const led = { ...two, markLead: s(0.2) };
    const [part] = layOutAlbum(led, masters);
    // Track 2 starts at 44 s, its mark at 43.8 s.
    const moved = startAt(led, 't2', s(50), part);
    expect(flat(moved, 1).gapBefore).toBe(s(8.2));
    expect(marks(moved, 't2')?.start).toBe(50 * 75);
  });

  it('sets a start mark on its own, on a frame, between the mark before and the end of the audio', () => {
    const [part] = layOutAlbum(two, masters);
    const mark = (seconds: number): number | undefined => {
      const set = setStartMark(two, 't2', s(seconds), part);
      return marks(set, 't2')?.start;
    };
    // 43.51 s are 3263.25 frames.
    expect(mark(43.51)).toBe(3263);
    expect(flat(setStartMark(two, 't2', s(43.5), part), 1).markLead).toBe(s(44) - 3262 * 9_408_000);
    expect(mark(46)).toBe(3450);
    // Not before the mark of track 1 at frame 150, nor at the end of the audio at 69 s.
    expect(mark(0)).toBe(151);
    expect(mark(100)).toBe(69 * 75 - 1);
    expect(flat(setStartMark(two, 't1', s(1), part), 0).markLead).toBe(0);
  });

  it('sets a pause on its own, never behind the start mark', () => {
    const [part] = layOutAlbum(two, masters);
    const pause = (seconds: number): number | null | undefined =>
      marks(setPause(two, 't2', s(seconds), part), 't2')?.pause;
    // The song before ends at 42 s, this one starts at 44 s.
    expect([pause(43), pause(41.2), pause(44), pause(50)]).toEqual([43 * 75, 41.2 * 75, null, null]);
    expect(setPause(two, 't1', s(1), part)).toBe(two);
  });

  it('sets index points in order, after the start mark and within the audio', () => {
    const [part] = layOutAlbum(two, masters);
    const at = (of: typeof two, seconds: number) => addIndex(of, 't2', s(seconds), part);
    const both = at(at(two, 60), 50.005);
    // 50.005 s are 3750.375 frames, rounded down to 50 s: 6 s after the start mark at 44 s.
    expect(flat(both, 1).indexes).toEqual([s(6), s(16)]);
    expect(at(both, 50)).toBe(both);
    expect(at(two, 44)).toBe(two);
    expect(at(two, 69)).toBe(two);
    expect(addIndex(two, 'gone', s(50), part)).toBe(two);
  });

  it('trims, fades and crosses a hidden song like any other', () => {
    const hidden = hideFirstTrack(two);
    expect(flat(setOut(hidden, 't1', s(20), masters), 0).out).toBe(s(20));
    expect(flat(trimIn(hidden, 't1', s(1), masters), 0)).toMatchObject({ in: s(1), gapBefore: s(3) });
    expect(flat(setGap(hidden, 't1', s(-1)), 0).gapBefore).toBe(0);
    // What follows it may overlap it.
    expect(flat(setGap(hidden, 't2', s(-1)), 1).gapBefore).toBe(s(-1));
    const crossed = crossfade(hidden, 't2', s(3), masters);
    expect([flat(crossed, 0).fadeOut.length, flat(crossed, 1).fadeIn.length]).toEqual([s(3), s(3)]);
  });

  it('holds everything after an edit in place when asked', () => {
    const [part] = layOutAlbum(two, masters);
    const held = holdFrom(setOut(two, 't1', s(45.5), masters), 't2', part, masters);
    expect(starts(held)).toEqual(starts(two));
    expect(flat(held, 1).gapBefore).toBe(s(-3.5));
  });

  it('never makes a region or a fade that a check would refuse, whatever is asked', () => {
    const times = fc.integer({ min: -100_000, max: 100_000 }).map((ms) => s(ms / 1000));
    fc.assert(
      fc.property(times, times, times, times, (out, start, fade, cross) => {
        const edited = crossfade(
          setFade(
            trimIn(setOut(two, 't2', out, masters), 't2', start, masters),
            't2',
            'fadeOut',
            { length: fade },
            masters,
          ),
          't2',
          ticks(Math.abs(cross)),
          masters,
        );
        const track = flat(edited, 1);
        expect(track.in).toBeGreaterThanOrEqual(0);
        expect(track.out).toBeLessThanOrEqual(s(60));
        expect(track.out! - track.in).toBeGreaterThan(0);
        expect(track.fadeIn.length + track.fadeOut.length).toBeLessThanOrEqual(track.out! - track.in);
      }),
    );
  });
});

describe('what is heard of a transition', () => {
  const span = (of: ReturnType<typeof album>, id: string, around: number) => {
    const found = transitionSpan(layOutAlbum(of, masters)[0].placement, id, s(around));
    return found && [found.start / s(1), found.end / s(1)];
  };
  it('reaches around the gap, or the overlap, but not beyond the two tracks', () => {
    // Track 1 sounds from 2 to 42 s, track 2 from 44 to 69 s.
    expect(span(two, 't2', 4)).toEqual([38, 48]);
    expect(span(setGap(two, 't2', s(-3)), 't2', 4)).toEqual([35, 46]);
    expect(span(two, 't2', 100)).toEqual([2, 69]);
    expect(span(two, 't1', 4)).toEqual([0, 6]);
    expect(span(two, 'gone', 4)).toBeNull();
  });
});

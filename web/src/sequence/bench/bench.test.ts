import { layOutAlbum } from '@oiseau/album/layout';
import type { Album, MasterFactsByKey } from '@oiseau/album/model';
import { secondsToTicks, ticks, type Ticks } from '@oiseau/audio/time';
import { album as albumOf, flat, withSong } from '@oiseau/album/testing';
import { describe, expect, it } from 'vitest';
import { changeWords, secondsText } from '../change-words.js';
import { dragged, handlePlaces, handleUnder, timeOf, type Handle } from './bench-handles.js';
import { voiceOf, type BenchScene } from './bench-scene.js';
import { ALL_SNAPS, NO_SNAP, snap, type SnapChoice } from './bench-snap.js';
import { axisOf, RULER, timeAt, xOf, type BenchView } from './bench-view.js';

const s = secondsToTicks;
const WIDTH = 1000;
const HEIGHT = 200 + RULER;
/** Every master lasts 20 s. */
const facts: MasterFactsByKey = new Map([['m', { rate: 44_100, length: 20 * 44_100 }]]);
/** Song 1 from 2 to 12 s with a fade-out of 1 s, song 2 from 14 to 34 s with a fade-in of 0.4 s. */
const album: Album = albumOf(
  { master: 'm', title: 'Lamp Lit', out: s(10), fadeOut: { length: s(1), shape: 'cosine' } },
  { master: 'm', title: 'Lantern Oil', fadeIn: { length: s(0.4), shape: 'slow' } },
);
/** Its sound stands over −60 dB from 1 s to 9.5 s; zero crossings lie 5 ms from wherever one looks. */
const record = {
  info: { rate: 44_100, length: 20 * 44_100 },
  measurement: { edges: [{ levelDb: -60, start: 44_100, end: 9.5 * 44_100 }] },
} as unknown as Parameters<typeof voiceOf>[2];
const sound = { level: () => 0.5, zeroNear: (time: Ticks) => ticks(time + s(0.005)) };
const [part] = layOutAlbum(album, facts);
const sceneOf = (of: Album): BenchScene => {
  const { songs } = layOutAlbum(of, facts)[0].placement;
  const voice = (i: number) => voiceOf(of.songs[i], songs.get(`t${i + 1}`), record, sound);
  const after = voice(1);
  if (!after) throw new Error('no second song');
  return { before: voice(0), after, startMark: s(14), pause: s(12), indexes: [] };
};
const scene = sceneOf(album);
/** The album after a handle was dragged by some seconds. */
const draggedBy = (handle: Handle, seconds: number): Album =>
  dragged(album, handle, ticks(timeOf(handle, scene) + s(seconds)), scene, part, facts);
/** From 7 to 17 s: 100 pixels a second. */
const view: BenchView = { start: s(7), end: s(17) };

describe('the Bench', () => {
  it('is to scale', () => {
    expect([xOf(s(7), view, WIDTH), xOf(s(12), view, WIDTH), xOf(s(17), view, WIDTH)]).toEqual([
      0, 500, 1000,
    ]);
    expect(timeAt(250, view, WIDTH)).toBe(s(9.5));
  });

  it('has its edges at the line between the songs, and its fades where they are at full level', () => {
    const places = Object.fromEntries(
      handlePlaces(scene, view, WIDTH, HEIGHT).map(({ handle, x, y }) => [
        handle,
        [x, y < axisOf(HEIGHT) ? 'above' : 'below'],
      ]),
    );
    expect(places).toEqual({
      out: [500, 'above'],
      fadeOut: [400, 'above'],
      mark: [700, 'above'],
      pause: [500, 'above'],
      in: [700, 'below'],
      fadeIn: [740, 'below'],
    });
    expect(handlePlaces({ ...scene, before: null }, view, WIDTH, HEIGHT).map(({ handle }) => handle)).toEqual(
      ['mark', 'pause', 'in', 'fadeIn'],
    );
  });

  it.each<[string, number, number, Handle | null]>([
    ['the knob of the out point', 503, 92, 'out'],
    ['its line', 498, 70, 'out'],
    ['the flag of the pause', 503, 46, 'pause'],
    ['the flag of the start mark', 704, 27, 'mark'],
    ['the knob of the fade-out', 404, 10, 'fadeOut'],
    ['the line of the in point', 701, 150, 'in'],
    ['the knob of the fade-in', 738, 190, 'fadeIn'],
    ['the song that begins', 850, 150, 'gap'],
    ['the song that ends', 200, 50, null],
    ['the pause', 600, 150, null],
    ['the times along the bottom', 850, HEIGHT - 3, null],
  ])('gives hold of %s', (_, x, y, wanted) => {
    expect(handleUnder(x, y, scene, view, WIDTH, HEIGHT)).toBe(wanted);
  });

  it.each<[Handle, number, (of: Album) => unknown, unknown]>([
    ['out', 2, (of) => flat(of, 0).out, s(12)],
    ['out', 50, (of) => flat(of, 0).out, s(20)],
    ['fadeOut', -1, (of) => flat(of, 0).fadeOut, { length: s(2), shape: 'cosine' }],
    ['in', 1, (of) => [flat(of, 1).in, flat(of, 1).gapBefore], [s(1), s(3)]],
    ['fadeIn', 1, (of) => flat(of, 1).fadeIn, { length: s(1.4), shape: 'slow' }],
    ['gap', -5, (of) => flat(of, 1).gapBefore, s(-3)],
    ['mark', -0.2, (of) => flat(of, 1).markLead, s(0.2)],
    ['mark', 0.4, (of) => flat(of, 1).markLead, s(-0.4)],
    ['pause', 0.6, (of) => flat(of, 1).pauseDelay, s(0.6)],
  ])('drags “%s” by %f s', (handle, seconds, of, wanted) => {
    expect(of(draggedBy(handle, seconds))).toEqual(wanted);
  });
});

describe('what catches a drag', () => {
  /** 120 bpm with a beat at the start of song 1's master: beats on every half second of the disc from 2 s. */
  const tempo = { bpm: 120, bar: 4, beat: ticks(0) };
  const withBeat = sceneOf(withSong(withSong(album, 0, { tempo }), 1, { tempo }));
  const only = (choice: Partial<SnapChoice>): SnapChoice => ({ ...NO_SNAP, ...choice });
  /** Where a handle comes to lie, and why; a pixel is 10 ms and 7 of them are within reach. */
  const caughtBy = (handle: Handle, seconds: number, choice: SnapChoice, of = withBeat) => {
    const { time, caught } = snap(handle, s(seconds), of, view, WIDTH, choice);
    return [time, caught?.words];
  };

  it('beats of the song before, past its end too', () => {
    expect(caughtBy('gap', 13.54, only({ beats: true }))).toEqual([s(13.5), 'on the beat']);
    expect(caughtBy('gap', 13.6, only({ beats: true }))).toEqual([s(13.6), undefined]);
    expect(caughtBy('gap', 13.54, only({ beats: true }), scene)).toEqual([s(13.54), undefined]);
  });

  it('the first sound of the next song on a beat, when it does not begin at once', () => {
    // Song 2 begins 0.7 s into its master, whose sound begins at 1 s: begun at 13.7 s it sounds on the beat at 14 s.
    const late = sceneOf(withSong(withSong(album, 0, { tempo }), 1, { tempo, in: s(0.7) }));
    const { time, caught } = snap('gap', s(13.74), late, view, WIDTH, only({ beats: true }));
    expect([time, caught?.at, caught?.words]).toEqual([s(13.7), s(14), 'first sound on the beat']);
  });

  it('start and end of sound', () => {
    // The master of song 1 begins at 2 s, so its sound ends at 11.5 s; that of song 2 begins at 15 s.
    expect(caughtBy('out', 11.47, only({ edges: true }))).toEqual([s(11.5), 'sound ends, −60 dB']);
    expect(caughtBy('in', 15.03, only({ edges: true }))).toEqual([s(15), 'sound begins, −60 dB']);
    expect(caughtBy('mark', 14.02, only({ edges: true }))).toEqual([s(14), 'start of the track']);
    expect(caughtBy('pause', 12.02, only({ edges: true }))).toEqual([s(12), 'end of the previous track']);
    expect(caughtBy('gap', 12.02, only({ edges: true }))).toEqual([s(12), 'directly at its end']);
  });

  it('zero crossings, for a cut, when one is within reach', () => {
    expect(caughtBy('in', 14.3, only({ zeros: true }))).toEqual([s(14.305), 'zero crossing']);
    expect(caughtBy('gap', 14.3, only({ zeros: true }))).toEqual([s(14.3), undefined]);
  });

  it('frames of the disc where nothing else does, unless it is free', () => {
    // 13.2234 s is 991.755 frames: 992 frames are 13.226667 s.
    expect(caughtBy('mark', 13.2234, ALL_SNAPS)).toEqual([ticks(992 * 9_408_000), undefined]);
    expect(caughtBy('mark', 13.2234, NO_SNAP)).toEqual([s(13.2234), undefined]);
  });
});

describe('an edit in words', () => {
  const words = (handle: Handle, seconds: number): string => changeWords(album, draggedBy(handle, seconds));
  it('names what changed, from what, to what', () => {
    expect(words('gap', -0.6)).toBe('gap before “Lantern Oil” 2 s → 1.4 s');
    expect(words('out', 1)).toBe('out point of “Lamp Lit” 0:10.000 → 0:11.000');
    expect(words('in', 0.5)).toBe(
      'gap before “Lantern Oil” 2 s → 2.5 s, in point of “Lantern Oil” 0:00.000 → 0:00.500',
    );
    expect(words('fadeOut', 0.25)).toBe('fade-out of “Lamp Lit” 1 s → 0.75 s');
  });
  it('writes seconds as short as they are', () => {
    expect([s(2), s(1.6667), s(-0.5), ticks(0)].map(secondsText)).toEqual([
      '2 s',
      '1.667 s',
      '−0.5 s',
      '0 s',
    ]);
  });
});

import {
  layOutAlbum,
  newAlbum,
  newTrack,
  secondsToTicks,
  ticks,
  type Album,
  type MasterFacts,
} from '@oiseau/core';
import { describe, expect, it } from 'vitest';
import { dragged, handlePlaces, handleUnder, snapped, type Handle } from './bench-handles.js';
import { voiceOf, type BenchScene } from './bench-scene.js';
import { axisOf, RULER, timeAt, xOf, type BenchView } from './bench-view.js';
import { changeWords, secondsText } from './bench-words.js';

const s = secondsToTicks;
const WIDTH = 1000;
const HEIGHT = 200 + RULER;
/** Every master lasts 20 s. */
const facts: ReadonlyMap<string, MasterFacts> = new Map([['m', { rate: 44_100, length: 20 * 44_100 }]]);
/** Song 1 from 2 to 12 s with a fade-out of 1 s, song 2 from 14 to 34 s with a fade-in of 0.4 s. */
const album: Album = {
  ...newAlbum('Nine Tides'),
  tracks: [
    { ...newTrack('a', 'm', 'Lamp Lit'), out: s(10), fadeOut: { length: s(1), shape: 'cosine' } },
    { ...newTrack('b', 'm', 'Lantern Oil'), fadeIn: { length: s(0.4), shape: 'slow' } },
  ],
};
const sceneOf = (of: Album): BenchScene => {
  const { layout } = layOutAlbum(of, facts);
  const record = { info: { rate: 44_100, length: 20 * 44_100 } } as Parameters<typeof voiceOf>[2];
  const voice = (i: number) => voiceOf(of.tracks[i], layout.tracks[i], record, () => 0.5);
  const after = voice(1);
  if (!after) throw new Error('no second song');
  return { before: voice(0), after, startMark: s(14), pause: s(12) };
};
const scene = sceneOf(album);
/** From 7 to 17 s: 100 pixels a second. */
const view: BenchView = { from: s(7), until: s(17) };

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
      in: [700, 'below'],
      fadeIn: [740, 'below'],
    });
    expect(handlePlaces({ ...scene, before: null }, view, WIDTH, HEIGHT).map(({ handle }) => handle)).toEqual(
      ['in', 'fadeIn'],
    );
  });

  it.each<[string, number, number, Handle | null]>([
    ['the knob of the out point', 503, 92, 'out'],
    ['its line', 498, 40, 'out'],
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
    ['out', 2, ({ tracks }) => tracks[0]?.out, s(12)],
    ['out', 50, ({ tracks }) => tracks[0]?.out, s(20)],
    ['fadeOut', -1, ({ tracks }) => tracks[0]?.fadeOut, { length: s(2), shape: 'cosine' }],
    ['in', 1, ({ tracks }) => [tracks[1]?.in, tracks[1]?.gapBefore], [s(1), s(3)]],
    ['fadeIn', 1, ({ tracks }) => tracks[1]?.fadeIn, { length: s(1.4), shape: 'slow' }],
    ['gap', -5, ({ tracks }) => tracks[1]?.gapBefore, s(-3)],
  ])('drags “%s” by %f s', (handle, seconds, of, wanted) => {
    expect(of(dragged(album, 1, handle, s(seconds), scene, facts, true))).toEqual(wanted);
  });

  it('binds drags to the frames of the disc, unless it is told not to', () => {
    // 0.1234 s is 9.255 frames; 9 frames are 0.12 s.
    expect(snapped(s(0.1234), true)).toBe(s(0.12));
    expect(snapped(s(0.1234), false)).toBe(s(0.1234));
  });
});

describe('an edit in words', () => {
  const words = (handle: Handle, seconds: number): string =>
    changeWords(album, dragged(album, 1, handle, s(seconds), scene, facts, false));
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

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Silhouette } from '@oiseau/audio/measure';
import { secondsToTicks } from '@oiseau/audio/time';
import { layOutAlbum, type Part } from '../layout/part.js';
import { album, type SongChange } from '../testing.js';
import { suggestSpacing, type SpacingSuggestion } from './suggested-spacing.js';

const s = secondsToTicks;
const RATE = 44_100;

/** An outline of stretches of so many seconds at a level in dBFS. */
const outline = (...stretches: readonly (readonly [seconds: number, db: number])[]): Silhouette => {
  const values = stretches.flatMap(([seconds, db]) => {
    const value = Math.round(32_768 * 10 ** (db / 20));
    return Array.from({ length: 2 * Math.round(75 * seconds) }, () => value);
  });
  return new Silhouette(Uint16Array.from(values));
};
const SILENT = -120;
/** Ten seconds: sound at once, at the end so much silence. */
const ending = (silence: number): Silhouette => outline([10 - silence, -20], [silence, SILENT]);

function partOf(
  songs: readonly { readonly outline: Silhouette; readonly change?: SongChange }[],
): [Part, ReadonlyMap<string, Silhouette>] {
  const made = album(...songs.map(({ change = {} }, i) => ({ master: `m${i + 1}`, title: 'x', ...change })));
  const masters = new Map(
    songs.map(({ outline: of }, i) => [`m${i + 1}`, { rate: RATE, length: of.length * (RATE / 75) }]),
  );
  const [part] = layOutAlbum(made, masters);
  return [part, new Map(songs.map(({ outline: of }, i) => [`m${i + 1}`, of]))];
}

const suggested = (songs: Parameters<typeof partOf>[0], ...asked: string[]): SpacingSuggestion[] => {
  const [part, outlines] = partOf(songs);
  return suggestSpacing([part], new Set(asked), outlines);
};
const seconds = (time: number): number => time / s(1);

describe('suggested spacing', () => {
  it('aims at two seconds from sound to sound where nothing is set by hand', () => {
    const [found] = suggested(
      [{ outline: ending(0.8) }, { outline: outline([0.32, SILENT], [9.68, -20]) }],
      't2',
    );
    expect(found).toMatchObject({ song: 't2', basis: 'usual', isOnBeat: false });
    // Windows of 8/75 s: 0.75 of the 0.8 s are whole ones, and all of the 0.32 s.
    expect(seconds(found?.tail ?? 0)).toBeCloseTo(0.747, 2);
    expect(seconds(found?.head ?? 0)).toBeCloseTo(0.32, 2);
    expect(seconds(found?.gap ?? 0)).toBeCloseTo(2 - 0.747 - 0.32, 1);
  });

  it('follows the pause in the middle of at least three that were set by hand', () => {
    const byHand = [3, 4, 3.5, 1].map((gap) => ({
      ...{ outline: ending(0.32), change: { gapBefore: s(gap) } },
    }));
    const songs = [{ outline: ending(0.32) }, ...byHand, { outline: ending(0.32) }];
    const [found] = suggested(songs, 't6');
    expect(found?.basis).toBe('habit');
    // Of 1, 3, 3.5 and 4 s, each after 0.32 s of silence, the third.
    expect(seconds(found?.pause ?? 0)).toBeCloseTo(3.82, 6);
    expect(seconds(found?.gap ?? 0)).toBeCloseTo(3.5, 6);
    expect(suggested(songs.slice(3), 't3')[0]?.basis).toBe('usual');
    // A gap is no example for itself, and one that was never chosen is none at all.
    const [part, outlines] = partOf(songs);
    const basis = (...notChosen: string[]) =>
      suggestSpacing([part], new Set(['t2']), outlines, new Set(notChosen))[0]?.basis;
    expect([basis(), basis('t3')]).toEqual(['habit', 'usual']);
  });

  it('lets tracks run into each other that sound up to the cut', () => {
    expect(suggested([{ outline: ending(0) }, { outline: ending(0) }], 't2')).toMatchObject([
      { gap: 0, basis: 'continues' },
    ]);
  });

  it('counts a tail as silence only below the next beginning', () => {
    const tail = outline([6, -20], [4, -65]);
    const loud = suggested([{ outline: tail }, { outline: outline([10, -20]) }], 't2')[0];
    const quiet = suggested([{ outline: tail }, { outline: outline([10, -70]) }], 't2')[0];
    // 37 windows of 8/75 s
    expect(seconds(loud?.tail ?? 0)).toBeCloseTo(3.947, 3);
    expect(quiet?.tail).toBe(0);
  });

  it('begins on a beat of the earlier track', () => {
    // A beat each 0.75 s from 0.25 s of the master: after its end at 10 s at 10.75, 11.5, 12.25 …
    const tempo = { bpm: 80, beat: s(0.25), bar: 4 };
    const [found] = suggested(
      [{ outline: ending(0.48), change: { tempo } }, { outline: outline([10, -20]) }],
      't2',
    );
    expect(found?.isOnBeat).toBe(true);
    // The pause of 2 s less the half second of silence ends at 11.5 s.
    expect(seconds(found?.gap ?? 0)).toBeCloseTo(1.5, 6);
  });

  it('says nothing where an outline is missing', () => {
    const [part] = partOf([{ outline: ending(0) }, { outline: ending(0) }]);
    expect(suggestSpacing([part], new Set(['t2']), new Map())).toEqual([]);
  });

  it('never overlaps, never waits longer than 8 s, and answers the same each time', () => {
    const stretch = fc.tuple(fc.double({ min: 0.1, max: 9, noNaN: true }), fc.integer({ min: -90, max: 0 }));
    const song = fc.record({
      outline: fc.array(stretch, { minLength: 1, maxLength: 4 }).map((of) => outline(...of)),
      change: fc.record({
        gapBefore: fc.integer({ min: -2000, max: 20_000 }).map((ms) => s(ms / 1000)),
        tempo: fc.option(
          fc.record({
            bpm: fc.integer({ min: 20, max: 400 }),
            beat: fc.integer({ min: 0, max: 9000 }).map((ms) => s(ms / 1000)),
            bar: fc.constant(4),
          }),
        ),
      }),
    });
    fc.assert(
      fc.property(fc.array(song, { minLength: 2, maxLength: 6 }), (songs) => {
        const asked = songs.map((_, i) => `t${i + 1}`);
        const found = suggested(songs, ...asked);
        expect(found).toHaveLength(songs.length - 1);
        for (const { gap } of found) {
          expect(gap).toBeGreaterThanOrEqual(0);
          expect(gap).toBeLessThanOrEqual(s(8));
          expect(Number.isInteger(gap)).toBe(true);
        }
        expect(suggested(songs, ...asked)).toEqual(found);
      }),
    );
  });
});

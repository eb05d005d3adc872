import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layOutAlbum } from '@oiseau/album/layout';
import { Silhouette } from '@oiseau/audio/measure';
import { album } from '@oiseau/album/testing';
import { secondsToTicks } from '@oiseau/audio/time';
import { cutsToLength, cutSongs, framesOfMaster, type ReadingSettings } from './reading.js';

/** An outline that sounds but for some silences, [start, end) in seconds. */
function outline(seconds: number, silences: readonly (readonly [number, number])[]): Silhouette {
  const values = new Uint16Array(2 * 75 * seconds).fill(10_000);
  for (const [start, end] of silences) values.fill(0, 2 * Math.round(75 * start), 2 * Math.round(75 * end));
  return new Silhouette(values);
}
const SETTINGS: ReadingSettings = { thresholdDb: -50, shortestSilence: 0.4, about: 300, least: 120 };
const cuts = (of: Silhouette, change: Partial<ReadingSettings> = {}): number[] =>
  cutsToLength(of, { start: 0, end: of.length }, { ...SETTINGS, ...change }).map(
    (frame) => Math.round((10 * frame) / 75) / 10,
  );

describe('a long reading', () => {
  it('is cut in silences, so that its tracks are about as long as is wanted', () => {
    // A breath before the sound goes on.
    expect(
      cuts(
        outline(900, [
          [299, 300],
          [450, 451],
          [598, 600],
        ]),
      ),
    ).toEqual([299.7, 599.7]);
    // Nothing nearer to five minutes than 4:20 and 9:40.
    expect(
      cuts(
        outline(900, [
          [100, 101],
          [259, 260],
          [579, 580],
          [800, 801],
        ]),
      ),
    ).toEqual([259.7, 579.7]);
  });

  it('takes a long silence before a short one that lies a little nearer', () => {
    expect(
      cuts(
        outline(600, [
          [282, 285],
          [299.5, 300],
        ]),
      ),
    ).toEqual([284.7]);
    // But not for any length.
    expect(
      cuts(
        outline(600, [
          [200, 203],
          [299.5, 300],
        ]),
      ),
    ).toEqual([299.7]);
  });

  it('has no track under the least, and no cut without a silence', () => {
    expect(cuts(outline(200, [[99, 101]]))).toEqual([]);
    expect(
      cuts(
        outline(900, [
          [100, 101],
          [850, 851],
        ]),
      ),
    ).toEqual([]);
    expect(cuts(outline(2000, []))).toEqual([]);
    // A breath is no silence.
    expect(cuts(outline(600, [[299.7, 300]]))).toEqual([]);
    expect(cuts(outline(600, [[299.7, 300]]), { shortestSilence: 0.2 })).toEqual([299.9]);
  });

  it('is cut where only a stretch of it is played, and nowhere else', () => {
    const of = outline(1800, [
      [299, 300],
      [599, 600],
      [899, 900],
      [1199, 1200],
      [1499, 1500],
    ]);
    const found = cutsToLength(of, { start: 600 * 75, end: 1200 * 75 }, SETTINGS);
    expect(found.map((frame) => Math.round(frame / 7.5) / 10)).toEqual([899.7]);
  });

  it('never has a track under the least, whatever is silent', () => {
    const silences = fc.array(fc.tuple(fc.integer({ min: 0, max: 3590 }), fc.integer({ min: 1, max: 8 })));
    fc.assert(
      fc.property(silences, fc.integer({ min: 30, max: 400 }), (found, about) => {
        const of = outline(
          3600,
          found.map(([start, length]) => [start, start + length] as const),
        );
        const at = cuts(of, { about, least: about / 3 });
        const edges = [0, ...at, 3600];
        const lengths = edges.slice(1).map((end, i) => end - (edges[i] ?? 0));
        expect(Math.min(...lengths)).toBeGreaterThanOrEqual(Math.min(3600, about / 3) - 0.02);
      }),
      { numRuns: 60 },
    );
  });

  it('of twelve hours takes no longer than a breath', () => {
    const of = outline(
      43_200,
      Array.from({ length: 6000 }, (_, i) => [7.2 * i + 5, 7.2 * i + 5.6] as const),
    );
    // 144 of five minutes; a cut in a short silence is made a little later than wanted.
    const found = cuts(of);
    expect(found.length + 1).toBeGreaterThanOrEqual(137);
    expect(found.length + 1).toBeLessThanOrEqual(145);
  });
});

describe('songs that are cut', () => {
  it('run on as the recording does, with the gap before and the fades at their ends', () => {
    const s = secondsToTicks;
    const fade = { length: s(2), shape: 'linear' as const };
    const long = album(
      { title: 'Book One', out: s(900), gapBefore: s(3), fadeIn: fade, fadeOut: fade, isrc: 'ZZOIS2600001' },
      { title: 'Book Two', out: s(100) },
    );
    let n = 0;
    const made = cutSongs(long, new Map([['t1', framesOfMaster([300 * 75, 600 * 75])]]), () => `new${++n}`);
    expect(made.songs.map(({ id, title, isrc }) => [id, title, isrc])).toEqual([
      ['t1', 'Book One · 1', 'ZZOIS2600001'],
      ['new1', 'Book One · 2', ''],
      ['new2', 'Book One · 3', ''],
      ['t2', 'Book Two', ''],
    ]);
    expect(made.songs.map(({ region }) => [region.in, region.out, region.gapBefore])).toEqual([
      [0, s(300), s(3)],
      [s(300), s(600), 0],
      [s(600), s(900), 0],
      [0, s(100), s(2)],
    ]);
    expect(made.songs.map(({ region }) => [region.fadeIn.length, region.fadeOut.length])).toEqual([
      ...[
        [s(2), 0],
        [0, 0],
        [0, s(2)],
        [0, 0],
      ],
    ]);
    // Nothing has moved: the second song begins where it began.
    const facts = new Map([['ab'.repeat(32), { rate: 44_100, length: 44_100 * 1000 }]]);
    const startOf = (of: typeof long): number | undefined =>
      layOutAlbum(of, facts)[0].placement.songs.get('t2')?.start;
    expect(startOf(made)).toBe(startOf(long));
  });
});

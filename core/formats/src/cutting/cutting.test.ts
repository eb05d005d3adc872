import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nearestZeroCrossing } from '@oiseau/audio/dsp';
import { Silhouette, soundings, soundWithin } from '@oiseau/audio/measure';
import { album, flat } from '@oiseau/album/testing';
import { source } from '@oiseau/audio/testing';
import { layOutAlbum } from '@oiseau/album/layout';
import { secondsToTicks, ticks } from '@oiseau/audio/time';
import {
  cutAt,
  cutAtMarks,
  cutAtSoundings,
  keepNames,
  changePiece,
  joinToPrevious,
  moveCut,
  pieceAt,
  pieceEnd,
  startCutting,
  type Cutting,
} from './cutting.js';
import { MarkListError, readMarkList, readMarks } from './mark-list.js';
import { applyCutting, cutRegions } from './tracks.js';
import { suggestTrim } from './trim.js';

const s = secondsToTicks;
/** An outline of stretches of [seconds, linear level]. */
const outline = (...stretches: [number, number][]): Silhouette =>
  new Silhouette(
    Uint16Array.from(
      stretches.flatMap(([seconds, level]) =>
        Array.from({ length: seconds * 75 }, () => [level * 32_768, level * 16_384]).flat(),
      ),
    ),
  );
const starts = ({ pieces }: Cutting): number[] => pieces.map(({ start }) => start);

describe('soundings', () => {
  // 2 s silence, 10 s, 0.4 s silence, 10 s, 3 s silence, 1 s, 3 s silence, 20 s, 4 s silence
  const concert = outline(
    [2, 0],
    [10, 0.5],
    [0.4, 0],
    [10, 0.5],
    [3, 0.0005],
    [1, 0.1],
    [3, 0],
    [20, 0.3],
    [4, 0],
  );
  const found = (thresholdDb: number, shortestSilence: number, shortestPiece: number) =>
    soundings(concert, { thresholdDb, shortestSilence, shortestPiece }).map(({ start, end }) => [
      start / 75,
      end / 75,
    ]);

  it('are told apart by the silences', () => {
    expect(found(-60, 1, 0)).toEqual([
      [2, 22.4],
      [25.4, 26.4],
      [29.4, 49.4],
    ]);
  });
  it('follow the shortest silence, the shortest piece and the threshold', () => {
    expect(found(-60, 0.4, 0)).toHaveLength(4);
    // The second of sound joins what was before it.
    expect(found(-60, 1, 2)).toEqual([
      [2, 26.4],
      [29.4, 49.4],
    ]);
    // 0.0005 is −66 dBFS: over −70 the three seconds are no silence.
    expect(found(-70, 1, 0)).toEqual([
      [2, 26.4],
      [29.4, 49.4],
    ]);
    expect(found(0, 1, 0)).toEqual([]);
  });
  it('lie within a stretch', () => {
    expect(soundWithin(concert, 24 * 75, 29 * 75, -60)).toEqual({ start: 25.4 * 75, end: 26.4 * 75 });
    expect(soundWithin(concert, 50 * 75, 53 * 75, -60)).toBeNull();
  });
});

describe('cutting', () => {
  const cutting = [300, 100, 200].reduce((all, at) => cutAt(all, at), startCutting(400));

  it('puts cuts in order, once each, never at the edges', () => {
    expect(starts(cutting)).toEqual([0, 100, 200, 300]);
    expect([cutAt(cutting, 200), cutAt(cutting, 0), cutAt(cutting, 400)]).toEqual([
      cutting,
      cutting,
      cutting,
    ]);
    expect([pieceAt(cutting, 199), pieceAt(cutting, 200), pieceEnd(cutting, 3)]).toEqual([1, 2, 400]);
  });
  it('moves a cut only between its neighbours', () => {
    expect(starts(moveCut(cutting, 2, 150))).toEqual([0, 100, 150, 300]);
    expect(starts(moveCut(cutting, 2, 20))).toEqual([0, 100, 101, 300]);
    expect(starts(moveCut(cutting, 3, 900))).toEqual([0, 100, 200, 399]);
    expect(moveCut(cutting, 0, 50)).toBe(cutting);
  });
  it('joins pieces, keeping a name', () => {
    const joined = joinToPrevious(changePiece(cutting, 2, { name: 'Ebb' }), 2);
    expect(starts(joined)).toEqual([0, 100, 300]);
    expect(joined.pieces[1]?.name).toBe('Ebb');
    expect(joinToPrevious(cutting, 0)).toBe(cutting);
  });
  it('takes marks of any order; what lies before the first is left out', () => {
    const marks = [
      { at: 200, name: 'Ebb' },
      { at: 50, name: 'Flood' },
      { at: 900, name: 'beyond' },
    ];
    expect(cutAtMarks(400, marks).pieces).toEqual([
      { start: 0, name: '', keep: false },
      { start: 50, name: 'Flood', keep: true },
      { start: 200, name: 'Ebb', keep: true },
    ]);
    expect(cutAtMarks(400, [{ at: 0, name: 'All' }]).pieces).toEqual([{ start: 0, name: 'All', keep: true }]);
    expect(cutAtMarks(400, [])).toEqual(startCutting(400));
  });
  it('cuts a breath before each sound that was found, never inside the one before', () => {
    const found = soundings(outline([1, 0], [4, 0.5], [2, 0], [4, 0.5], [0.4, 0], [4, 0.5]), {
      thresholdDb: -60,
      shortestSilence: 0.4,
      shortestPiece: 0,
    });
    // Sounds at 1–5, 7–11 and 11.4–15.4 s: cuts at 6.7 s, and half-way at 11.2 s.
    const cut = cutAtSoundings(15.4 * 48_000, 48_000, found);
    expect(starts(cut)).toEqual([0, 6.7 * 48_000, 11.2 * 48_000]);
    expect(starts(cutAtSoundings(100, 48_000, []))).toEqual([0]);
    const named = keepNames(cut, cutAtMarks(100, [{ at: 0, name: 'Flood' }]));
    expect(named.pieces.map(({ name }) => name)).toEqual(['Flood', '', '']);
  });
  it('never leaves a hole or a piece without length, whatever is done', () => {
    const step = fc.tuple(
      fc.constantFrom('cut', 'move', 'join'),
      fc.nat(6),
      fc.integer({ min: -50, max: 450 }),
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
        const end = steps.reduce((all, [what, index, at]) => {
          if (what === 'cut') return cutAt(all, at);
          return what === 'move' ? moveCut(all, index, at) : joinToPrevious(all, index);
        }, startCutting(400));
        expect(starts(end)[0]).toBe(0);
        end.pieces.forEach(({ start }, i) => expect(pieceEnd(end, i)).toBeGreaterThan(start));
      }),
    );
  });
});

describe('tracks from pieces', () => {
  const recital = outline([2, 0], [6, 0.5], [4, 0], [6, 0.5], [2, 0]);
  const rate = 44_100;
  const cutting = changePiece(
    cutAtMarks(20 * rate, [
      { at: 0, name: '' },
      { at: 10 * rate, name: 'Ebb' },
    ]),
    0,
    { name: 'Flood' },
  );
  const trim = { thresholdDb: -60, headMargin: s(0.2), tailMargin: s(1) };

  it('run into each other sample for sample', () => {
    const regions = cutRegions(cutting, { rate, outline: recital }, { kind: 'continuous' });
    expect(regions).toEqual([
      { start: 0, end: s(10), name: 'Flood', gapBefore: s(2) },
      { start: s(10), end: s(20), name: 'Ebb', gapBefore: 0 },
    ]);
  });
  it('or are trimmed to their sound with gaps', () => {
    const regions = cutRegions(cutting, { rate, outline: recital }, { kind: 'trimmed', gap: s(3), trim });
    expect(regions.map(({ start, end, gapBefore }) => [start, end, gapBefore])).toEqual([
      [s(1.8), s(9), s(2)],
      [s(11.8), s(19), s(3)],
    ]);
  });
  it('leave out what is not kept and name the rest by place', () => {
    const left = changePiece(changePiece(cutting, 0, { keep: false }), 1, { name: ' ' });
    expect(cutRegions(left, { rate, outline: recital }, { kind: 'continuous' })).toMatchObject([
      { name: 'Part 1', start: s(10) },
    ]);
  });
  it('take the place of the track that played the whole recording', () => {
    const long = 'cd'.repeat(32);
    const before = album({}, { master: long, gapBefore: s(5), performer: 'Ebba Thole' }, {});
    const after = applyCutting(
      before,
      cutting,
      { sha256: long, rate, outline: recital },
      { kind: 'continuous' },
      (i) => `new${i}`,
    );
    expect(after.songs.map(({ id }) => id)).toEqual(['t1', 'new0', 'new1', 't3']);
    expect(flat(after, 1)).toMatchObject({
      title: 'Flood',
      gapBefore: s(5),
      performer: 'Ebba Thole',
      out: s(10),
    });
    const masters = new Map([
      [long, { rate, length: 20 * rate }],
      ['ab'.repeat(32), { rate, length: rate * 60 }],
    ]);
    const { songs } = layOutAlbum(after, masters)[0].placement;
    expect(songs.get('new1')?.start).toBe(songs.get('new0')?.end);
    const added = applyCutting(
      album({}),
      cutting,
      { sha256: long, rate, outline: recital },
      { kind: 'continuous' },
      (i) => `new${i}`,
    );
    expect(added.songs.map(({ id }) => id)).toEqual(['t1', 'new0', 'new1']);
  });
});

describe('a suggested trim', () => {
  it('keeps its margins, but never more than was there', () => {
    const master = outline([0.6, 0], [4, 0.5], [2, 0.0005], [8, 0]);
    const settings = { thresholdDb: -60, headMargin: s(0.2), tailMargin: s(1) };
    expect(suggestTrim(master, { start: ticks(0), end: s(14.6) }, settings)).toEqual({
      start: s(0.4),
      end: s(5.6),
    });
    // At −72 dBFS the tail of −66 dBFS counts as well.
    expect(
      suggestTrim(master, { start: ticks(0), end: s(14.6) }, { ...settings, thresholdDb: -72 })?.end,
    ).toBe(s(7.6));
    expect(suggestTrim(master, { start: s(0.5), end: s(5) }, settings)).toEqual({ start: s(0.5), end: s(5) });
    expect(suggestTrim(master, { start: s(8), end: s(14) }, settings)).toBeNull();
  });
});

describe('a list of times and names', () => {
  it('is read with the time on either side, with numbers and dashes around', () => {
    expect(
      readMarkList('\uFEFF0:00 Flood\n2. Slack Water  3:05.5\r\n\n[12:30] – Ebb\n1:02:03 3 Bells\n4:00'),
    ).toEqual([
      { at: 0, name: 'Flood' },
      { at: s(185.5), name: 'Slack Water' },
      { at: s(750), name: 'Ebb' },
      { at: s(3723), name: '3 Bells' },
      { at: s(240), name: '' },
    ]);
  });
  it('may be a cue sheet', () => {
    const sheet =
      'FILE "a.wav" WAVE\n  TRACK 01 AUDIO\n    TITLE "Flood"\n    INDEX 01 00:00:00\n  TRACK 02 AUDIO\n    INDEX 00 03:00:00\n    INDEX 01 03:02:15\n';
    // 182 s and 15 of 75 frames
    expect(readMarks(sheet)).toEqual([
      { at: 0, name: 'Flood' },
      { at: s(182.2), name: '' },
    ]);
    expect(readMarks('0:10 TRACKS of foxes')).toEqual([{ at: s(10), name: 'TRACKS of foxes' }]);
  });
  it('names the line without a time', () => {
    expect(() => readMarkList('0:00 Flood\nEbb')).toThrow(MarkListError);
    expect(() => readMarkList('0:00 Flood\nEbb')).toThrow('Line 2, “Ebb”, has no time');
  });
});

describe('the nearest zero crossing', () => {
  // A square wave that changes sign at 0, 100, 200, 300 …
  const square = {
    ...source(44_100, 1, (n) => (Math.floor(n / 100) % 2 === 0 ? 0.5 : -0.5)),
    read: (start: number, count: number) => {
      const left = Float64Array.from({ length: count }, (_, i) =>
        Math.floor((start + i) / 100) % 2 === 0 ? 0.5 : -0.5,
      );
      return Promise.resolve({ left, right: left });
    },
  };
  it('is where the sign changes, at most so far away', async () => {
    expect(await nearestZeroCrossing(square, 160, 100)).toBe(200);
    expect(await nearestZeroCrossing(square, 140, 100)).toBe(100);
    expect(await nearestZeroCrossing(square, 300, 100)).toBe(300);
    expect(await nearestZeroCrossing(square, 150, 20)).toBe(150);
  });
});

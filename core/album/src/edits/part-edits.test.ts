import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { secondsToTicks, ticksToSeconds } from '@oiseau/audio/time';
import { album } from '../testing.js';
import {
  beginPart,
  editPart,
  joinPart,
  moveInPart,
  spreadOver,
  withSpread,
  type SpreadSong,
} from './part-edits.js';
import { partsOf } from '../model/parts.js';

const s = secondsToTicks;
const four = album({}, {}, { gapBefore: s(0.5) }, {});
const openings = (of: typeof four): string[] => of.parts.map(({ first }) => first);

describe('parts', () => {
  it('begin before a song, are joined again, and leave no trace where one plain disc is left', () => {
    const two = beginPart(four, 't3', 'cd');
    expect(openings(two)).toEqual(['t1', 't3']);
    // A disc has two seconds before its first song.
    expect(two.songs[2]?.region.gapBefore).toBe(s(2));
    const three = beginPart(two, 't2', 'vinyl-12-33');
    expect(openings(three)).toEqual(['t1', 't2', 't3']);
    expect(three.songs[1]?.region.gapBefore).toBe(four.songs[1]?.region.gapBefore);
    expect(openings(joinPart(three, 2))).toEqual(['t1', 't3']);
    expect(joinPart(two, 2).parts).toEqual([]);
    expect(beginPart(two, 't3', 'cd')).toBe(two);
    expect(beginPart(four, 't1', 'cd')).toBe(four);
  });

  it('are called and limited by themselves', () => {
    const named = editPart(beginPart(four, 't3', 'cd'), 2, { title: 'Ebb', limit: s(600) });
    expect(partsOf(named).map(({ title }) => title)).toEqual(['Nine Tides', 'Ebb']);
    // Such a disc stays named when it is alone.
    expect(joinPart(editPart(beginPart(four, 't3', 'cd'), 1, { title: 'Flood' }), 2).parts).toHaveLength(1);
  });
});

describe('a track that is moved in a part', () => {
  const two = beginPart(album({}, {}, {}, {}), 't3', 'cd');
  const order = (of: typeof two): string[][] => partsOf(of).map(({ tracks }) => tracks.map(({ id }) => id));

  it('stays in it, also where it comes to stand first', () => {
    expect(order(moveInPart(two, 't4', 2, 0))).toEqual([
      ['t1', 't2'],
      ['t4', 't3'],
    ]);
    expect(order(moveInPart(two, 't3', 2, 1))).toEqual([
      ['t1', 't2'],
      ['t4', 't3'],
    ]);
    expect(order(moveInPart(two, 't2', 1, 0))[0]).toEqual(['t2', 't1']);
    expect(moveInPart(two, 't3', 2, 0)).toBe(two);
  });

  it('goes to any place of another part, and leaves none behind that has nothing', () => {
    const moved = (id: string, part: number, to: number): string =>
      order(moveInPart(two, id, part, to))
        .map((ids) => ids.join(' '))
        .join(' | ');
    expect([0, 1, 2].map((to) => moved('t1', 2, to))).toEqual([
      ...['t2 | t1 t3 t4', 't2 | t3 t1 t4', 't2 | t3 t4 t1'],
    ]);
    expect([0, 1, 2].map((to) => moved('t4', 1, to))).toEqual([
      ...['t4 t1 t2 | t3', 't1 t4 t2 | t3', 't1 t2 t4 | t3'],
    ]);
    // One that opens its part leaves it to the next.
    expect(moved('t3', 1, 2)).toBe('t1 t2 t3 | t4');
    expect(moveInPart(two, 't1', 2, 3)).toBe(two);
    expect(moveInPart(two, 't1', 3, 0)).toBe(two);
    const single = beginPart(two, 't4', 'cd');
    expect(order(moveInPart(single, 't4', 2, 0))).toEqual([
      ['t1', 't2'],
      ['t4', 't3'],
    ]);
    expect(order(moveInPart(single, 't3', 3, 1))).toEqual([
      ['t1', 't2'],
      ['t4', 't3'],
    ]);
    const front = beginPart(beginPart(four, 't2', 'cd'), 't3', 'cd');
    expect(order(moveInPart(front, 't1', 2, 0))).toEqual([
      ['t1', 't2'],
      ['t3', 't4'],
    ]);
  });
});

/** Songs of so many minutes, two seconds apart. */
const songsOf = (...minutes: number[]): SpreadSong[] =>
  minutes.map((length, i) => ({ id: `s${i + 1}`, length: s(60 * length), gapBefore: s(2) }));
const minutesOf = (found: ReturnType<typeof spreadOver>): [string, number][] =>
  'parts' in found ? found.parts.map(({ first, length }) => [first, ticksToSeconds(length) / 60]) : [];

describe('spreading', () => {
  it('takes as few parts as the limit allows, and then makes the longest as short as it can be', () => {
    // 17 minutes and some seconds: two sides of 12 hold them, best with 10 and 7.
    const found = minutesOf(spreadOver(songsOf(4, 3, 3, 3, 4), 'vinyl-12-45', s(12 * 60)));
    expect(found.map(([first]) => first)).toEqual(['s1', 's4']);
    expect(found[0]?.[1]).toBeCloseTo(10 + 4 / 60, 6);
    expect(found[1]?.[1]).toBeCloseTo(7 + 2 / 60, 6);
  });

  it('counts the two seconds before the first song of a disc', () => {
    const songs = songsOf(5, 5);
    expect(minutesOf(spreadOver(songs, 'cd', s(604)))).toHaveLength(1);
    expect(minutesOf(spreadOver(songs, 'cd', s(603)))).toHaveLength(2);
    expect(minutesOf(spreadOver(songs, 'vinyl-12-33', s(602)))).toHaveLength(1);
  });

  it('names songs that are over the limit, and gives more parts where that is wished', () => {
    expect(spreadOver(songsOf(3, 30, 3), 'vinyl-7-45', s(360))).toEqual({ over: ['s2'] });
    expect(minutesOf(spreadOver(songsOf(3, 3, 3, 3), 'cd', s(4000), 3)).map(([first]) => first)).toHaveLength(
      3,
    );
    expect(minutesOf(spreadOver(songsOf(3, 3), 'cd', s(4000), 5))).toHaveLength(2);
  });

  it('finds what trying everything finds', () => {
    const lengths = fc.array(fc.integer({ min: 1, max: 20 }), { minLength: 1, maxLength: 8 });
    fc.assert(
      fc.property(lengths, fc.integer({ min: 20, max: 60 }), (minutes, most) => {
        const limit = s(60 * most + 2 * minutes.length);
        const songs = songsOf(...minutes);
        const found = minutesOf(spreadOver(songs, 'vinyl-12-33', limit));
        let best: [number, number] = [Infinity, Infinity];
        for (let cuts = 0; cuts < 2 ** (songs.length - 1); cuts++) {
          const parts: number[] = [];
          songs.forEach(({ length, gapBefore }, i) => {
            if (i === 0 || cuts & (1 << (i - 1))) parts.push(length);
            else parts[parts.length - 1] = (parts.at(-1) ?? 0) + gapBefore + length;
          });
          const longest = Math.max(...parts);
          if (longest > limit) continue;
          if (parts.length < best[0] || (parts.length === best[0] && longest < best[1]))
            best = [parts.length, longest];
        }
        expect(found).toHaveLength(best[0]);
        expect(Math.max(...found.map(([, length]) => length))).toBeCloseTo(
          ticksToSeconds(best[1] as never) / 60,
          6,
        );
      }),
      { numRuns: 60 },
    );
  });

  it('becomes the parts of an album, which keep their names', () => {
    const named = editPart(beginPart(four, 't3', 'cd'), 2, { title: 'Ebb' });
    const spread = { parts: ['t1', 't3', 't4'].map((first) => ({ first, length: s(60) })) };
    const found = withSpread(named, spread, 'cd', s(600));
    expect(found.parts.map(({ first, title, limit }) => [first, title, limit])).toEqual([
      ['t1', '', s(600)],
      ['t3', 'Ebb', s(600)],
      ['t4', '', s(600)],
    ]);
    expect(withSpread(named, { parts: spread.parts.slice(0, 1) }, 'cd', null).parts).toEqual([]);
  });
});

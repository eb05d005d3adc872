import { describe, expect, it } from 'vitest';
import { newAlbum, albumSchema } from '@oiseau/album/model';
import { AlbumFileError, MOST_ISSUES, parseAlbumFile } from '@oiseau/album/file';
import { movingDb } from '../stages/automation.js';
import { atMost } from './at-most.js';
import { isDeeperThan } from './json-depth.js';
import { safelyParsed } from './safely-parsed.js';
import * as z from './z.js';

const file = (more: object): string =>
  JSON.stringify({ format: 'oiseau-album', version: 1, tracks: [{ master: 'x.wav' }], ...more });

/** The faults that a file is refused with. */
function problemsOf(text: string): readonly string[] {
  try {
    parseAlbumFile(text);
  } catch (error) {
    if (error instanceof AlbumFileError) return error.problems;
    throw error;
  }
  return [];
}

describe('hostile documents', () => {
  it('with a hundred thousand entries are refused by one look at their number', () => {
    const many = Object.fromEntries(Array.from({ length: 100_000 }, (_, i) => [`n${i}`, 'x.wav']));
    expect(problemsOf(file({ tracks: [{ master: 'x.wav', alternates: many }] }))).toEqual([
      'tracks[0].alternates: 100000 alternates; at most 30 are allowed.',
    ]);
    expect(problemsOf(file({ tags: many }))).toEqual(['tags: 100000 tags; at most 200 are allowed.']);
    expect(problemsOf(file({ tracks: Array.from({ length: 501 }, () => 0) }))).toEqual([
      'tracks: 501 tracks; at most 500 are allowed.',
    ]);
  });

  it('are told of a hundred faults, and of twenty unknown keys', () => {
    const faulty = Array.from({ length: 200 }, () => ({ master: 5, gain: 1000 }));
    expect(problemsOf(file({ tracks: faulty }))).toHaveLength(MOST_ISSUES);
    const keys = Object.fromEntries(Array.from({ length: 5000 }, (_, i) => [`k${i}`, 0]));
    const [problem = ''] = problemsOf(file(keys));
    expect(problem).toMatch(/^k0, k1, .*k19 and 4980 more: unknown key\.$/);
  });

  it('that are nested deeper than any are refused before they are parsed', () => {
    expect(isDeeperThan('[[1],{"a":["]]]\\\"[[["]}]', 3)).toBe(false);
    expect(isDeeperThan('[[1],{"a":[2]}]', 2)).toBe(true);
    expect(problemsOf('['.repeat(1_000_000))).toEqual(['The album file is nested too deeply.']);
  });

  it('name one point of a list, however many do not fit', () => {
    const points = Array.from({ length: 1000 }, () => ({ at: -1, db: 99 }));
    const read = movingDb(-24, 24).safeParse(points);
    expect(JSON.stringify(read.error?.issues).match(/"path":\[0,/g)?.length).toBe(2);
    expect(
      movingDb(-24, 24).safeParse([
        { at: 0, db: 24 },
        { at: 1, db: -24 },
      ]).success,
    ).toBe(true);
    for (const bad of [{ at: 0 }, { at: 0, db: 25 }, { at: 0, db: 1, more: 1 }, null, 5])
      expect(movingDb(-24, 24).safeParse([bad]).success).toBe(false);
  });

  it('with more faults than the stack holds are refused, not thrown at', () => {
    const overflowing = z.any().superRefine(() => {
      throw new RangeError('Maximum call stack size exceeded');
    });
    expect(safelyParsed(overflowing, {}).error?.issues).toMatchObject([{ code: 'custom' }]);
    expect(() =>
      safelyParsed(
        z.any().superRefine(() => {
          throw new TypeError('x');
        }),
        {},
      ),
    ).toThrow(TypeError);
  });

  it('with times that add up to more than a hundred days are no albums', () => {
    const day = 24 * 3600 * 705_600_000;
    const album = newAlbum('x');
    const saved = { ...album, endPause: 9 * day };
    expect(albumSchema.safeParse(saved).success).toBe(true);
    expect(albumSchema.safeParse({ ...album, endPause: 11 * day }).success).toBe(false);
  });

  it('keep the types of what they bound', () => {
    const bounded = atMost(2, 'things', z.array(z.number()));
    expect(bounded.parse([1, 2])).toEqual([1, 2]);
    expect(bounded.safeParse([1, 2, 3]).error?.issues[0]?.message).toBe('3 things; at most 2 are allowed.');
    expect(bounded.safeParse('text').success).toBe(false);
  });
});

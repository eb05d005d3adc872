import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { secondsToTicks } from '@oiseau/audio/time';
import { album } from '../testing.js';
import { albumSchema, type Album } from './album.js';
import { appendSongs, hideFirstTrack, moveTrack, removeSongs } from '../edits/edit.js';
import { AlbumFileError, albumFromFile, albumToFile, parseAlbumFile } from '../file/file.js';
import { layOutAlbum } from '../layout/part.js';
import { partsOf, positionOf, trackNumber, type Medium, type PartSettings } from './parts.js';

const s = secondsToTicks;
const opens = (medium: Medium, first: string, change: Partial<PartSettings> = {}): PartSettings => ({
  ...{ medium, first, title: '', upc: '', limit: null },
  ...change,
});
/** Five songs of 60 s, the third opening a second disc. */
const double: Album = {
  ...album({ out: s(60) }, { out: s(60) }, { out: s(60), gapBefore: s(3) }, { out: s(60) }, { out: s(60) }),
  parts: [opens('cd', 't1'), opens('cd', 't3', { title: 'Ebb', upc: '2012345678903' })],
};
const facts = new Map([['ab'.repeat(32), { rate: 44_100, length: 70 * 44_100 }]]);
const shape = (of: Album): string[] =>
  partsOf(of).map(({ label, songs }) => `${label}: ${songs.map(({ id }) => id).join(' ')}`);

describe('parts of an album', () => {
  it('are one CD where nobody says otherwise, with the album’s own disc number', () => {
    const [part, ...others] = partsOf({ ...album({}, {}), discNumber: 2, discTotal: 3 });
    expect(others).toEqual([]);
    expect(part).toMatchObject({ kind: 'disc', discNumber: 2, discTotal: 3, of: 1, title: 'Nine Tides' });
    expect(part?.limit).toBe(s(79 * 60 + 57));
  });

  it('have songs, numbers, titles and codes of their own', () => {
    expect(shape(double)).toEqual(['1: t1 t2', '2: t3 t4 t5']);
    const [first, second] = partsOf(double);
    expect(first).toMatchObject({ name: 'disc-1', discNumber: 1, discTotal: 2, title: 'Nine Tides' });
    expect(second).toMatchObject({ name: 'disc-2', discNumber: 2, title: 'Ebb', upc: '2012345678903' });
    expect(second && [trackNumber(second, 't4'), trackNumber(second, 't1')]).toEqual([2, null]);
    expect(second && positionOf(second, 2)).toBe('2-02');
  });

  it('are sides by letters, two to a record', () => {
    const sides = {
      ...double,
      parts: [opens('vinyl-12-33', 't1'), opens('vinyl-12-33', 't2'), opens('vinyl-7-45', 't4')],
    };
    expect(partsOf(sides).map(({ name, discNumber, discTotal }) => [name, discNumber, discTotal])).toEqual([
      ['side-A', 1, 2],
      ['side-B', 1, 2],
      ['side-C', 2, 2],
    ]);
    const [, , last] = partsOf(sides);
    expect(last && [positionOf(last, 2), last.limit]).toEqual(['C2', s(360)]);
  });

  it('are placed each by itself: a first pause on each disc, none on a side', () => {
    const [, second] = layOutAlbum(double, facts);
    expect(second?.placement.songs.get('t3')).toEqual({ start: s(3), end: s(63) });
    expect(second?.disc?.tracks.get('t3')).toMatchObject({ number: 1, start: 225, pause: null });
    // 3 + 60 + 2 + 60 + 2 + 60 s
    expect(second?.disc?.leadOut).toBe(187 * 75);
    const [side] = layOutAlbum(
      { ...double, endPause: s(9), parts: [opens('vinyl-12-33', 't1'), opens('vinyl-12-33', 't4')] },
      facts,
    );
    expect(side.disc).toBeNull();
    expect([...side.placement.songs.values()][0]).toEqual({ start: 0, end: s(60) });
    // 60 + 2 + 60 + 3 + 60 s, nothing before and nothing behind.
    expect(side.placement.end).toBe(s(185));
  });

  it('begin with the next song when the one that opens them is taken out, and are gone without songs', () => {
    expect(shape(removeSongs(double, new Set(['t3'])))).toEqual(['1: t1 t2', '2: t4 t5']);
    expect(shape(removeSongs(double, new Set(['t1'])))).toEqual(['1: t2', '2: t3 t4 t5']);
    expect(shape(removeSongs(double, new Set(['t3', 't4', 't5'])))).toEqual(['1: t1 t2']);
    expect(shape(removeSongs(double, new Set(['t1', 't2'])))).toEqual(['1: t3 t4 t5']);
    expect(shape(appendSongs(double, album({ id: 'new' }).songs))).toEqual(['1: t1 t2', '2: t3 t4 t5 new']);
    expect(shape(hideFirstTrack(double))).toEqual(['1: t1 t2', '2: t3 t4 t5']);
  });

  it('keep their other songs when one is moved over a border', () => {
    expect(shape(moveTrack(double, 't1', 4))).toEqual(['1: t2', '2: t3 t4 t5 t1']);
    expect(shape(moveTrack(double, 't5', 0))).toEqual(['1: t5 t1 t2', '2: t3 t4']);
    expect(shape(moveTrack(double, 't3', 4))).toEqual(['1: t1 t2', '2: t4 t5 t3']);
  });

  it('stay in order and lose no song, whatever is moved and taken out', () => {
    const change = fc.oneof(
      fc.tuple(fc.integer({ min: 1, max: 5 }), fc.nat(4)).map(
        ([n, to]) =>
          (of: Album) =>
            moveTrack(of, `t${n}`, to),
      ),
      fc.integer({ min: 1, max: 5 }).map((n) => (of: Album) => removeSongs(of, new Set([`t${n}`]))),
    );
    fc.assert(
      fc.property(fc.array(change, { maxLength: 6 }), (changes) => {
        const after = changes.reduce((of, each) => each(of), double);
        const songs = partsOf(after).flatMap((part) => part.songs);
        expect(songs).toEqual(after.songs);
        const masters = { ...after, songs: after.songs };
        if (after.songs.length > 0) expect(albumSchema.safeParse(masters).success).toBe(true);
      }),
    );
  });
});

describe('parts in the album file', () => {
  const file = (parts: unknown, change: object = {}) =>
    JSON.stringify({
      ...{ format: 'oiseau-album', version: 1, parts },
      tracks: ['a', 'b', 'c'].map((name) => ({ master: `${name}.wav` })),
      ...change,
    });
  const problems = (text: string): readonly string[] => {
    try {
      parseAlbumFile(text);
      return [];
    } catch (error) {
      return error instanceof AlbumFileError ? error.problems : [String(error)];
    }
  };

  it('come and go', () => {
    const read = parseAlbumFile(
      file([
        { medium: 'cd', first: 1 },
        { medium: 'vinyl-12-45', first: 3, title: 'Ebb', upc: '', limit: 600 },
      ]),
    );
    const made = albumFromFile(
      read,
      (name) => name,
      (n) => `t${n}`,
    );
    expect(made.parts).toEqual([
      opens('cd', 't1'),
      opens('vinyl-12-45', 't3', { title: 'Ebb', limit: s(600) }),
    ]);
    expect(albumToFile(made, (name) => name, null)).toEqual(read);
    const hidden = parseAlbumFile(file([{ medium: 'cd', first: 1 }], { hidden: { master: 'h.wav' } }));
    const withHidden = albumFromFile(
      hidden,
      (name) => name,
      (n) => `t${n}`,
    );
    expect(partsOf(withHidden)[0]?.songs.map(({ id }) => id)).toEqual(['t0', 't1', 't2', 't3']);
    expect(albumToFile(withHidden, (name) => name, null)).toEqual(hidden);
  });

  it('are refused where they make no sense, each with its field', () => {
    const part = (first: number, medium = 'cd') => ({ medium, first });
    expect(problems(file([part(2)]))[0]).toMatch(/^parts\[0\]\.first: .*track 1/);
    expect(problems(file([part(1), part(1)]))[0]).toMatch(/^parts\[1\]\.first: /);
    expect(problems(file([part(1), part(3), part(2)]))[0]).toMatch(/^parts\[2\]\.first: /);
    expect(problems(file([part(1), part(4)]))[0]).toMatch(/no track 4/);
    expect(problems(file([part(1, 'tape')]))[0]).toMatch(/^parts\[0\]\.medium: /);
    expect(problems(file([part(1, 'vinyl-7-45')], { hidden: { master: 'h.wav' } }))[0]).toMatch(
      /must be a CD/,
    );
    expect(problems(file([{ ...part(1), colour: 1 }]))[0]).toMatch(/parts\[0\]\.colour: unknown key/);
  });
});

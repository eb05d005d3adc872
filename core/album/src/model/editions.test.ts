import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NO_ALBUM_TREATMENT } from '@oiseau/audio/stages';
import { secondsToTicks } from '@oiseau/audio/time';
import { albumFromFile, albumToFile, AlbumFileError, parseAlbumFile } from '../file/file.js';
import { albumDocument, readAlbumDocument } from '../file/stored.js';
import { layOutAlbum, layOutDeliverable } from '../layout/part.js';
import { album } from '../testing.js';
import { albumSchema, type Album } from './album.js';
import { albumOfEdition, lostOverlaps } from './album-of-edition.js';
import { deliverableSchema } from './deliverable.js';
import { newEdition, type Edition } from './edition.js';

const s = secondsToTicks;
const LIMITER = { drive: 4, ceiling: -1, release: 80 };
const part = (medium: 'cd' | 'vinyl-12-33', first: string) => ({
  ...{ medium, first, title: '', upc: '', limit: null },
});

/** Four tracks with gaps of 2, 3, −1 and 4 s. */
const four: Album = {
  ...album(
    { title: 'A' },
    { title: 'B', gapBefore: s(3) },
    { title: 'C', gapBefore: s(-1) },
    { title: 'D', gapBefore: s(4) },
  ),
  ...{ title: 'Nine Tides', upc: '2012345678903', sound: { ...NO_ALBUM_TREATMENT, limiter: LIMITER } },
};

const masters = new Map(four.songs.map(({ region }) => [region.master, { rate: 44_100, length: 441_000 }]));

const titles = ({ songs }: Album) => songs.map(({ title }) => title).join('');
const gaps = ({ songs }: Album) => songs.map(({ region }) => region.gapBefore / s(1));
const of = (change: Partial<Edition>) => albumOfEdition(four, { ...newEdition('LP'), ...change });

describe('an edition', () => {
  it('that says nothing is the album', () =>
    expect(albumOfEdition(four, newEdition('CD'))).toEqual({
      ...four,
      deliverables: [],
    }));

  it('has its own order, without the tracks that it does not name', () => {
    expect(titles(of({ order: ['t4', 't1', 't3'] }))).toBe('DAC');
    // Ids of tracks that were removed from the album are ignored.
    expect(titles(of({ order: ['t4', 'gone', 't1'] }))).toBe('DA');
  });

  it('keeps the gap of a track, but no overlap for a new pair, and 2 s before the first of a disc', () => {
    // C overlaps B by a second: that stays while B comes before it.
    expect(gaps(of({ order: ['t2', 't3', 't4', 't1'] }))).toEqual([2, -1, 4, 2]);
    expect(gaps(of({ order: ['t1', 't3', 't2'] }))).toEqual([2, 2, 3]);
    expect(lostOverlaps(four, { ...newEdition('LP'), order: ['t1', 't3', 't2'] })).toEqual(['t3']);
    expect(lostOverlaps(four, newEdition('CD'))).toEqual([]);
    // A gap that the edition sets is not touched, nor is an overlap.
    const set = {
      order: ['t1', 't3', 't2'],
      tracks: { t3: { gapBefore: s(-0.5) }, t1: { gapBefore: s(1) } },
    };
    expect(gaps(of(set))).toEqual([1, -0.5, 3]);
    expect(lostOverlaps(four, { ...newEdition('LP'), ...set })).toEqual([]);
    // A side begins as its track says; a disc does not.
    const sides = [part('vinyl-12-33', 't1'), part('vinyl-12-33', 't4')];
    expect(gaps(of({ parts: sides }))).toEqual([2, 3, -1, 4]);
    expect(gaps(of({ parts: [part('cd', 't1'), part('cd', 't4')] }))).toEqual([2, 3, -1, 2]);
  });

  it('is one disc where it has an order and no parts', () => {
    const vinyl = { ...four, parts: [part('vinyl-12-33', 't1'), part('vinyl-12-33', 't3')] };
    expect(albumOfEdition(vinyl, newEdition('LP')).parts).toEqual(vinyl.parts);
    expect(albumOfEdition(vinyl, { ...newEdition('CD'), order: ['t1', 't2'] }).parts).toEqual([]);
  });

  it('replaces fields and stages by name, and nothing else', () => {
    const lp = of({
      sound: { limiter: null },
      tracks: { t2: { in: s(1), out: null, gainDb: -1, title: 'B, long', isrc: 'ZZOIS2600002' } },
      ...{ title: 'Nine Tides (LP)', catalogNumber: 'LL-7-LP' },
    });
    expect(lp.sound).toEqual({ ...four.sound, limiter: null });
    expect(lp.songs[1]).toMatchObject({
      title: 'B, long',
      isrc: 'ZZOIS2600002',
      region: { in: s(1), gainDb: -1 },
    });
    expect([lp.title, lp.catalogNumber, lp.upc]).toEqual(['Nine Tides (LP)', 'LL-7-LP', four.upc]);
    expect(lp.songs[0]).toEqual(four.songs[0]);
  });

  it('makes its own deliverables; one that names none is of the first', () => {
    const wav = (name: string, edition?: string) =>
      deliverableSchema.parse({ name, kind: 'tracks', format: 'wav', ...(edition ? { edition } : {}) });
    const both = {
      ...four,
      editions: [newEdition('CD'), { ...newEdition('LP'), order: ['t3'] }],
      deliverables: [wav('a'), wav('b', 'LP'), wav('c', 'CD'), wav('d', 'gone')],
    };
    const found = both.deliverables.slice(0, 3).map((each) => layOutDeliverable(both, each, masters));
    expect(found.map(({ edition }) => edition)).toEqual(['CD', 'LP', 'CD']);
    expect(found.map((each) => titles(each.album))).toEqual(['ABCD', 'C', 'ABCD']);
    expect(found.map((each) => each.album.deliverables.map(({ name }) => name).join())).toEqual([
      'a,c',
      'b',
      'a,c',
    ]);
    expect(() => layOutDeliverable(both, wav('d', 'gone'), masters)).toThrow(
      '“d” is for edition “gone”, which doesn’t exist.',
    );
  });

  it('is laid out as an album that holds it alone', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray(['t1', 't2', 't3', 't4'], { minLength: 1 }), (order) => {
        const edition = albumOfEdition(four, { ...newEdition('LP'), order });
        // The same songs typed in that order, with the gaps that follow from the rules.
        const alone = {
          ...four,
          songs: order.map((id, i) => {
            const song = four.songs.find((each) => each.id === id)!;
            const keeps = i > 0 && (id !== 't3' || order[i - 1] === 't2');
            const gap = keeps ? song.region.gapBefore : s(2);
            return { ...song, region: { ...song.region, gapBefore: gap } };
          }),
        };
        expect(layOutAlbum(edition, masters)).toEqual(layOutAlbum(alone, masters));
      }),
    );
  });
});

describe('editions of a stored album', () => {
  it('are kept, and an album from before them has none', () => {
    const kept = { ...four, editions: [{ ...newEdition('LP'), order: ['t2', 't1'], draft: true }] };
    expect(readAlbumDocument(JSON.parse(JSON.stringify(albumDocument(kept))))).toEqual(kept);
    const { editions: _none, ...before } = four;
    expect(readAlbumDocument({ version: 6, ...before }).editions).toEqual([]);
  });

  it('have names that no file system takes for one', () => {
    for (const [one, other] of [
      ['LP', 'lp'],
      ['Café', 'Cafe\u0301'],
    ] as const)
      expect(albumSchema.safeParse({ ...four, editions: [newEdition(one), newEdition(other)] }).success).toBe(
        false,
      );
    const many = Array.from({ length: 51 }, (_, i) => newEdition(`E${i}`));
    expect(albumSchema.safeParse({ ...four, editions: many }).success).toBe(false);
    expect(albumSchema.safeParse({ ...four, editions: many.slice(1) }).success).toBe(true);
  });
});

describe('editions of an album file', () => {
  const file = (editions: object[], deliverables: object[] = []) =>
    JSON.stringify({
      ...{ format: 'oiseau-album', version: 1, title: 'Nine Tides', editions, deliverables },
      tracks: ['a', 'b', 'c'].map((name) => ({ master: `${name}.wav`, title: name })),
    });
  const read = (...given: Parameters<typeof file>): Album =>
    albumFromFile(
      parseAlbumFile(file(...given)),
      (name) => name,
      (number) => `t${number}`,
    );
  const problems = (...given: Parameters<typeof file>): readonly string[] => {
    try {
      parseAlbumFile(file(...given));
      return [];
    } catch (error) {
      return error instanceof AlbumFileError ? error.problems : [String(error)];
    }
  };

  it('count tracks from 1, and parts over their own tracks', () => {
    const { editions } = read([
      { name: 'CD' },
      {
        ...{ name: 'LP', order: [3, 1], sound: { limiter: null } },
        parts: [
          { medium: 'vinyl-12-33', first: 1 },
          { medium: 'vinyl-12-33', first: 2 },
        ],
        tracks: { 3: { gapBefore: 1.5, fadeOut: { length: 3, shape: 'cosine' }, gain: -0.5 } },
      },
    ]);
    expect(editions[0]).toEqual(newEdition('CD'));
    expect(editions[1]).toMatchObject({
      order: ['t3', 't1'],
      parts: [{ first: 't3' }, { first: 't1' }],
      sound: { limiter: null },
      tracks: { t3: { gapBefore: s(1.5), fadeOut: { length: s(3), shape: 'cosine' }, gainDb: -0.5 } },
    });
    // A stage that is not named stays the album's.
    expect(Object.keys(editions[1]?.sound ?? {})).toEqual(['limiter']);
  });

  it('come back as they were written', () => {
    const given = read([
      { name: 'CD', releaseDate: '2026-12-04' },
      {
        name: 'LP',
        order: [2, 3],
        parts: [{ medium: 'vinyl-7-45', first: 1 }],
        tracks: { 2: { out: null } },
      },
    ]);
    const written = albumToFile(given, (name) => name, null);
    expect(read(JSON.parse(JSON.stringify(written)).editions).editions).toEqual(given.editions);
    // A track that is gone is in no edition; the others keep their place.
    const without = { ...given, songs: given.songs.slice(1).map((song) => ({ ...song })) };
    expect(albumToFile(without, (name) => name, null).editions[1]).toMatchObject({ order: [1, 2] });
  });

  it.each([
    [[{ name: 'LP' }, { name: 'lp' }], [], 'Two editions are named “lp”.'],
    [[{ name: 'LP', order: [1, 4] }], [], 'There is no track 4; the album has 3.'],
    [[{ name: 'LP', order: [1, 1] }], [], 'Track 1 is on edition “LP” twice.'],
    [[{ name: 'LP', order: [] }], [], 'order'],
    [[{ name: 'LP', order: [1], tracks: { 2: { gain: 1 } } }], [], 'Track 2 is not on edition “LP”.'],
    [
      [
        {
          name: 'LP',
          order: [1, 2],
          parts: [
            { medium: 'cd', first: 1 },
            { medium: 'cd', first: 3 },
          ],
        },
      ],
      [],
      'There is no track 3; the edition has 2.',
    ],
    [[{ name: 'LP' }], [{ name: 'x', kind: 'ddp', edition: 'EP' }], 'There is no edition “EP”.'],
    [[{ name: 'LP', tracks: { 1: { volume: 1 } } }], [], 'volume'],
  ])('name what they can’t be: %j', (editions, deliverables, problem) => {
    const found = problems(editions, deliverables);
    expect(found).toHaveLength(1);
    expect(found[0]).toContain(problem);
  });

  it('bear every figure at its limits', () => {
    for (const gapBefore of [864_000, -864_000, 0])
      expect(problems([{ name: 'LP', order: [2, 1], tracks: { 1: { gapBefore } } }])).toEqual([]);
    expect(problems([{ name: 'LP', tracks: { 1: { gapBefore: 864_001 } } }])).toHaveLength(1);
    const edition = read([{ name: 'LP', tracks: { 1: { in: 10, out: 1, gain: -144 } } }]).editions[0];
    expect(edition?.tracks.t1).toEqual({ in: s(10), out: s(1), gainDb: -144 });
  });
});

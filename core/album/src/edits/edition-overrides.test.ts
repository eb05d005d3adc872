import { describe, expect, it } from 'vitest';
import { secondsToTicks } from '@oiseau/audio/time';
import { albumSchema, type Album } from '../model/album.js';
import { albumOfEdition, newNeighbours } from '../model/album-of-edition.js';
import { newEdition, type Edition } from '../model/edition.js';
import { album } from '../testing.js';
import { editRegion, editWords } from './edit.js';
import { adoptDraft, changeEdition, draftAsEdition } from './edition-edits.js';
import { addOverride, editionDifferences, removeOverride } from './edition-overrides.js';

const s = secondsToTicks;
const part = (first: string) => ({
  ...{ medium: 'vinyl-12-33' as const, first, title: '', upc: '', limit: null },
});
const four = (...editions: readonly Edition[]): Album => ({
  ...album({ title: 'A' }, { title: 'B' }, { title: 'C' }, { title: 'D' }),
  ...{ title: 'Nine Tides', editions: [...editions] },
});
const edition = (name: string, change: Partial<Edition>): Edition => ({ ...newEdition(name), ...change });
const ownOf = (of: Album, name: string): Edition => {
  const found = of.editions.find((each) => each.name === name);
  if (!found) throw new RangeError(name);
  return found;
};

describe('overrides of an edition', () => {
  const lp = edition('LP', {
    ...{ order: ['t2', 't1', 't3', 't4'], parts: [part('t2'), part('t3')], upc: '2012345678903' },
    tracks: { t3: { gapBefore: s(1), isrc: 'ZZOIS2600009' } },
  });

  it('are listed field by field, those of the album first', () =>
    expect(editionDifferences(four(newEdition('CD'), lp), lp)).toEqual([
      { song: null, field: 'order' },
      { song: null, field: 'parts' },
      { song: null, field: 'upc' },
      { song: 't3', field: 'gapBefore' },
      { song: 't3', field: 'isrc' },
    ]));

  it('go one by one, and the album’s value is there again', () => {
    const whole = four(newEdition('CD'), lp);
    const left = editionDifferences(whole, lp).reduce(
      (now, difference) => removeOverride(now, 'LP', difference),
      whole,
    );
    expect(ownOf(left, 'LP')).toEqual(newEdition('LP'));
    // Parts begin at tracks of an order: they go with it.
    const unordered = ownOf(removeOverride(whole, 'LP', { song: null, field: 'order' }), 'LP');
    expect(unordered).toMatchObject({ order: null, parts: null, upc: '2012345678903' });
  });

  it('keep later edits of a shared field in the edition', () => {
    const whole = addOverride(four(newEdition('CD'), newEdition('LP')), 'LP', { song: 't1', field: 'title' });
    expect(ownOf(whole, 'LP').tracks).toEqual({ t1: { title: 'A' } });
    const edited = changeEdition(whole, 'LP', (now) => editWords(now, 't1', { title: 'A (LP)' }));
    expect(edited.songs[0]?.title).toBe('A');
    expect(albumOfEdition(edited, ownOf(edited, 'LP')).songs[0]?.title).toBe('A (LP)');
    // Without it, all editions share the title.
    const shared = changeEdition(edited, 'CD', (now) => editWords(now, 't2', { title: 'B2' }));
    expect(albumOfEdition(shared, ownOf(shared, 'LP')).songs.map(({ title }) => title)).toEqual([
      ...['A (LP)', 'B2', 'C', 'D'],
    ]);
  });

  it('do nothing for a track that is not on the edition', () => {
    const whole = four(edition('CD', { order: ['t1', 't2'] }));
    expect(addOverride(whole, 'CD', { song: 't3', field: 'title' })).toBe(whole);
    expect(addOverride(whole, 'gone', { song: null, field: 'upc' })).toBe(whole);
  });
});

describe('new neighbours', () => {
  it('are tracks with another predecessor on their part whose gap the edition does not set', () => {
    const of = (change: Partial<Edition>) => newNeighbours(four(), edition('LP', change));
    expect(of({})).toEqual([]);
    // B after A as on the album; D and C have new predecessors.
    expect(of({ order: ['t1', 't2', 't4', 't3'] })).toEqual(['t4', 't3']);
    // C follows D; what opens an edition or a side follows nothing.
    expect(of({ order: ['t2', 't4', 't3', 't1'], parts: [part('t2'), part('t3')] })).toEqual(['t4', 't1']);
    const set = { order: ['t1', 't2', 't4', 't3'], tracks: { t4: { gapBefore: s(2) } } };
    expect(of(set)).toEqual(['t3']);
  });

  it('are heard once the gap is kept, which changes nothing that sounds', () => {
    const whole = four(edition('LP', { order: ['t2', 't1', 't3', 't4'] }));
    const kept = addOverride(whole, 'LP', { song: 't1', field: 'gapBefore' });
    expect(newNeighbours(whole, ownOf(whole, 'LP'))).toEqual(['t1', 't3']);
    expect(newNeighbours(kept, ownOf(kept, 'LP'))).toEqual(['t3']);
    expect(albumOfEdition(kept, ownOf(kept, 'LP'))).toEqual(albumOfEdition(whole, ownOf(whole, 'LP')));
  });
});

describe('a draft', () => {
  const whole = four(
    edition('CD', { upc: '2012345678903', sound: { limiter: null } }),
    edition('Late', { draft: true, order: ['t4', 't1'], tracks: { t1: { gapBefore: s(5) } } }),
  );

  it('is adopted: the edition has its order and spacing, and its own codes', () => {
    const adopted = adoptDraft(whole, 'Late', 'CD');
    expect(adopted.editions).toEqual([
      edition('CD', {
        ...{ upc: '2012345678903', order: ['t4', 't1'], tracks: { t1: { gapBefore: s(5) } } },
      }),
    ]);
  });

  it('becomes an edition with everything that it has', () =>
    expect(draftAsEdition(whole, 'Late').editions).toEqual([
      whole.editions[0],
      edition('Late', { order: ['t4', 't1'], tracks: { t1: { gapBefore: s(5) } } }),
    ]));

  it('is left alone where either is missing, or it is none', () => {
    expect(adoptDraft(whole, 'Late', 'LP')).toBe(whole);
    expect(adoptDraft(whole, 'CD', 'Late')).toBe(whole);
    expect(adoptDraft(whole, 'Late', 'Late')).toBe(whole);
  });
});

describe('a stored edition', () => {
  const reads = (of: Album): boolean => albumSchema.safeParse(of).success;

  it('has each track once, and no positions outside a hundred days', () => {
    expect(reads(four(edition('LP', { order: ['t1', 't2'] })))).toBe(true);
    expect(reads(four(edition('LP', { order: ['t1', 't2', 't1'] })))).toBe(false);
    // Three figures of four tracks, each of so many days: 96 and 108.
    const far = (days: number) => {
      const time = s(days * 86_400);
      const own = { in: time, out: time, gapBefore: time };
      return four(edition('LP', { tracks: { t1: own, t2: own, t3: own, t4: own } }));
    };
    expect(reads(far(8))).toBe(true);
    expect(reads(far(9))).toBe(false);
    expect(reads(far(-9))).toBe(false);
  });

  it('shares the name of none, in any case or Unicode form', () => {
    expect(reads(four(newEdition('Café'), newEdition('LP')))).toBe(true);
    for (const alike of ['CAFÉ', 'Cafe\u0301', 'ｃafé'])
      expect(reads(four(newEdition('Café'), newEdition(alike))), alike).toBe(false);
  });

  it('forgets tracks that were removed from the album', () => {
    const whole = four(
      edition('LP', { order: ['t1', 't4', 't2'], parts: [part('t1'), part('t4')], tracks: { t4: {} } }),
    );
    const without = { ...whole, songs: whole.songs.filter(({ id }) => id !== 't4') };
    expect(albumOfEdition(without, ownOf(without, 'LP')).songs.map(({ id }) => id)).toEqual(['t1', 't2']);
    expect(editionDifferences(without, ownOf(without, 'LP')).map(({ field }) => field)).toEqual([
      ...['order', 'parts'],
    ]);
    expect(() => editRegion(albumOfEdition(without, ownOf(without, 'LP')), 't4', {})).not.toThrow();
  });
});

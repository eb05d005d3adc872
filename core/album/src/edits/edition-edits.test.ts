import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NO_ALBUM_TREATMENT } from '@oiseau/audio/stages';
import { secondsToTicks } from '@oiseau/audio/time';
import { album } from '../testing.js';
import type { Album } from '../model/album.js';
import { albumOfEdition } from '../model/album-of-edition.js';
import { deliverableSchema } from '../model/deliverable.js';
import { newEdition } from '../model/edition.js';
import { mergeEdits } from './revert.js';
import { setGap } from './spacing.js';
import { editRegion, editSound, editWords, moveTrack, removeSongs } from './edit.js';
import { addEdition, changeEdition, removeEdition, renameEdition } from './edition-edits.js';

const s = secondsToTicks;
const LIMITER = { drive: 4, ceiling: -1, release: 80 };
const wav = (name: string, edition?: string) =>
  deliverableSchema.parse({ name, kind: 'tracks', format: 'wav', ...(edition ? { edition } : {}) });

const two: Album = {
  ...album({ title: 'A' }, { title: 'B', gapBefore: s(3) }, { title: 'C', gapBefore: s(4) }, { title: 'D' }),
  ...{ title: 'Nine Tides', upc: '2012345678903', sound: { ...NO_ALBUM_TREATMENT, limiter: LIMITER } },
  editions: [newEdition('CD'), { ...newEdition('LP'), order: ['t3', 't1', 't2'], upc: '2000000000008' }],
  deliverables: [wav('cd'), wav('lp', 'LP')],
};
const of = (from: Album, name: string): Album => {
  const edition = from.editions.find((each) => each.name === name);
  if (!edition) throw new Error(name);
  return albumOfEdition(from, edition);
};
const titles = (from: Album) => from.songs.map(({ title }) => title).join('');

describe('an edit of an edition', () => {
  it('stays there where it is order, spacing, parts or the album treatment', () => {
    const edits: ((each: Album) => Album)[] = [
      (each) => removeSongs(each, new Set(['t1'])),
      (each) => editRegion(each, 't2', { gapBefore: s(7), gainDb: -2 }),
      (each) => ({ ...each, sound: { ...each.sound, limiter: null } }),
      (each) => ({
        ...each,
        parts: [{ medium: 'cd', first: 't3', title: 'One', upc: '', limit: null }],
      }),
    ];
    for (const edit of edits) {
      const after = changeEdition(two, 'LP', edit);
      expect(of(after, 'CD')).toEqual(of(two, 'CD'));
      expect(after.songs).toEqual(two.songs);
      expect(of(after, 'LP')).toEqual(edit(of(two, 'LP')));
    }
    expect(
      titles(
        of(
          changeEdition(two, 'LP', (each) => moveTrack(each, 't2', 0)),
          'LP',
        ),
      ),
    ).toBe('BCA');
  });

  it('is everywhere where it is a title, a code, a trim or a treatment', () => {
    const titled = changeEdition(two, 'LP', (each) =>
      editWords(each, 't1', { title: 'Ebb', isrc: 'ZZOIS2600001' }),
    );
    expect([titles(of(titled, 'CD')), titles(of(titled, 'LP'))]).toEqual(['EbbBCD', 'CEbbB']);
    const trimmed = changeEdition(two, 'LP', (each) => editRegion(each, 't1', { in: s(1) }));
    expect(of(trimmed, 'CD').songs[0]?.region.in).toBe(s(1));
    const treated = changeEdition(two, 'LP', (each) =>
      editSound(each, 't1', (sound) => ({ ...sound, limiter: LIMITER })),
    );
    expect(of(treated, 'CD').songs[0]?.region.sound.limiter).toEqual(LIMITER);
    const named = changeEdition(two, 'LP', (each) => ({ ...each, title: 'Ten Tides', performer: 'Guest' }));
    expect([of(named, 'CD').title, of(named, 'CD').performer]).toEqual(['Ten Tides', 'Guest']);
  });

  it('stays in an override', () => {
    const own = { t1: { title: 'A, live', in: s(2), sound: { limiter: null } } };
    const lp = {
      ...two,
      editions: two.editions.map((each) => (each.name === 'LP' ? { ...each, tracks: own } : each)),
    };
    const edited = changeEdition(lp, 'LP', (each) => ({
      ...editWords(each, 't1', { title: 'A, at sea' }),
      upc: '2000000000015',
    }));
    expect([of(edited, 'LP').songs[1]?.title, of(edited, 'LP').upc]).toEqual(['A, at sea', '2000000000015']);
    expect([edited.songs[0]?.title, edited.upc]).toEqual(['A', two.upc]);
  });

  it('adds a track to the album, and to no other order', () => {
    const added = changeEdition(two, 'LP', (each) => ({
      ...each,
      songs: [...each.songs, { ...two.songs[0]!, id: 'new', title: 'E' }],
    }));
    expect([titles(of(added, 'CD')), titles(of(added, 'LP'))]).toEqual(['ABECD', 'CABE']);
  });

  it('keeps the deliverables of the others', () => {
    const after = changeEdition(two, 'LP', (each) => ({
      ...each,
      deliverables: [...each.deliverables, wav('x')],
    }));
    expect(after.deliverables).toEqual([wav('cd'), wav('lp', 'LP'), wav('x', 'LP')]);
    expect(changeEdition(two, 'LP', (each) => each)).toBe(two);
  });

  it('is what it would be of an album of its own, whatever is moved and respaced', () => {
    const step = fc.record({
      id: fc.constantFrom('t1', 't2', 't3'),
      to: fc.nat({ max: 2 }),
      gap: fc.integer({ min: 0, max: 9 }),
    });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 5 }), (steps) => {
        let whole = two;
        let alone = of(two, 'LP');
        for (const { id, to, gap } of steps) {
          const edit = (each: Album): Album => editRegion(moveTrack(each, id, to), id, { gapBefore: s(gap) });
          whole = changeEdition(whole, 'LP', edit);
          alone = edit(alone);
        }
        expect(titles(of(whole, 'LP'))).toBe(titles(alone));
        expect(of(whole, 'CD')).toEqual(of(two, 'CD'));
      }),
    );
  });
});

describe('editions of an album', () => {
  it('begin with the album itself, and a copy of it', () => {
    const none = { ...two, editions: [], deliverables: [wav('cd')] };
    const added = addEdition(none, 'LP', { from: '', first: 'CD' });
    expect(added.editions.map(({ name }) => name)).toEqual(['CD', 'LP']);
    expect(of(added, 'LP').songs).toEqual(two.songs);
    expect(of(added, 'CD').deliverables).toEqual([wav('cd')]);
    const copied = addEdition(two, 'LP 2', { from: 'LP', first: '', draft: true });
    expect(copied.editions[2]).toEqual({ ...two.editions[1], name: 'LP 2', draft: true });
  });

  it('take their deliverables with them', () => {
    expect(renameEdition(two, 'LP', 'Vinyl').deliverables).toEqual([wav('cd'), wav('lp', 'Vinyl')]);
    expect(removeEdition(two, 'LP')).toMatchObject({
      editions: [{ name: 'CD' }],
      deliverables: [{ name: 'cd' }],
    });
    const withoutFirst = removeEdition({ ...two, deliverables: [wav('cd'), wav('lp', 'LP')] }, 'CD');
    expect(withoutFirst).toMatchObject({ editions: [{ name: 'LP' }], deliverables: [{ name: 'lp' }] });
    // The last one stays.
    expect(removeEdition(withoutFirst, 'LP')).toBe(withoutFirst);
  });
});

describe('two windows', () => {
  const both = (mine: Album, theirs: Album, base = two): Album | 'conflict' => {
    const merged = mergeEdits(base, mine, theirs);
    return merged.mine === merged.theirs ? merged.mine : 'conflict';
  };
  const inLp = (of: Album, gap: number) => changeEdition(of, 'LP', (each) => setGap(each, 't2', s(gap)));

  it('that edit two editions don’t get in each other’s way', () => {
    const mine = changeEdition(two, 'CD', (each) => setGap(each, 't2', s(7)));
    const merged = both(mine, inLp(two, 9));
    if (merged === 'conflict') throw new Error(merged);
    expect(merged.editions.map(({ tracks }) => tracks.t2?.gapBefore)).toEqual([s(7), s(9)]);
  });

  it('that set one gap of one edition meet there', () => {
    expect(both(inLp(two, 8), inLp(two, 9))).toBe('conflict');
  });

  it('may add an edition each, and rename one while the other is edited', () => {
    const add = (name: string) => addEdition(two, name, { from: 'LP', first: 'CD' });
    const added = both(add('Promo'), add('Download'));
    expect(added !== 'conflict' && added.editions.map(({ name }) => name).sort()).toEqual([
      ...['CD', 'Download', 'LP', 'Promo'],
    ]);
    const renamed = both(renameEdition(two, 'CD', 'Disc'), inLp(two, 9));
    expect(renamed !== 'conflict' && renamed.editions.map(({ name }) => name)).toEqual(['Disc', 'LP']);
    // Renamed here and edited there: nothing is lost unseen.
    expect(both(renameEdition(two, 'LP', 'Vinyl'), inLp(two, 9))).toBe('conflict');
  });

  it('may change a deliverable each', () => {
    const change = (name: string, bits: 16 | 24): Album => ({
      ...two,
      deliverables: two.deliverables.map((each) =>
        each.name === name ? deliverableSchema.parse({ ...each, bits }) : each,
      ),
    });
    const merged = both(change('cd', 16), change('lp', 24));
    expect(merged !== 'conflict' && merged.deliverables).toMatchObject([
      { name: 'cd', bits: 16 },
      { name: 'lp', bits: 24 },
    ]);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { secondsToTicks } from '@oiseau/audio/time';
import { album, flat, withSong } from '../testing.js';
import type { Album } from '../model/album.js';
import { editRegion, editWords, moveTrack, removeSongs } from './edit.js';
import { mergeEdits, sameValue, takeBack } from './revert.js';

const s = secondsToTicks;
const five = album({}, {}, {}, {}, {});
const ids = (of: Album | null): string | undefined => of?.songs.map(({ id }) => id).join(' ');

describe('taking back one edit that is not the last', () => {
  it('leaves what was done since', () => {
    const trimmed = editRegion(five, 't2', { out: s(9) });
    const later = editWords(editRegion(trimmed, 't2', { gainDb: -3 }), 't3', { title: 'Ebb' });
    const back = takeBack(later, five, trimmed);
    expect(back && flat(back, 1)).toMatchObject({ out: null, gainDb: -3 });
    expect(back?.songs[2]?.title).toBe('Ebb');
  });

  it('brings a song back to where it stood among those that are there', () => {
    const without = removeSongs(five, new Set(['t1', 't4']));
    const later = withSong(moveTrack(without, 't5', 0), 1, { title: 'Neap' });
    // Taken out: t2 t3 t5; then t5 t2 t3. t1 stood at the head, t4 behind t3.
    const back = takeBack(later, five, without);
    expect(ids(back)).toBe('t1 t5 t2 t3 t4');
    expect(back?.songs[2]?.title).toBe('Neap');
    // The first pause is with the first song again.
    expect(back && flat(back, 2).gapBefore).toBe(s(2));
  });

  it('takes out again what the edit had brought in, unless somebody has worked on it', () => {
    const more = { ...five, songs: [...five.songs, ...album({ id: 'new' }).songs] };
    expect(ids(takeBack(editWords(more, 't1', { title: 'Ebb' }), five, more))).toBe('t1 t2 t3 t4 t5');
    expect(takeBack(editWords(more, 'new', { title: 'Ebb' }), five, more)).toBeNull();
  });

  it('puts the order back while nobody has made another', () => {
    const moved = moveTrack(five, 't5', 1);
    expect(ids(takeBack(editWords(moved, 't2', { title: 'Ebb' }), five, moved))).toBe('t1 t2 t3 t4 t5');
    expect(takeBack(moveTrack(moved, 't2', 4), five, moved)).toBeNull();
  });

  it('is not done where the same field was changed again', () => {
    const louder = editRegion(five, 't2', { gainDb: 1 });
    expect(takeBack(editRegion(louder, 't2', { gainDb: 2 }), five, louder)).toBeNull();
  });

  it('of the last edit is undo, whatever the edit', () => {
    const edit = fc.oneof(
      fc.tuple(fc.integer({ min: 1, max: 5 }), fc.nat(4)).map(
        ([n, to]) =>
          (of: Album): Album =>
            moveTrack(of, `t${n}`, to),
      ),
      fc.subarray(['t1', 't2', 't3', 't4', 't5']).map(
        (some) =>
          (of: Album): Album =>
            removeSongs(of, new Set(some)),
      ),
      fc.tuple(fc.integer({ min: 1, max: 5 }), fc.double({ min: -9, max: 9, noNaN: true })).map(
        ([n, gainDb]) =>
          (of: Album): Album =>
            editRegion(of, `t${n}`, { gainDb }),
      ),
    );
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 4 }), edit, (before, last) => {
        const start = before.reduce((of, change) => change(of), five);
        const end = last(start);
        expect(sameValue(takeBack(end, start, end), start)).toBe(true);
      }),
    );
  });
});

describe('values that say the same', () => {
  it('do so whatever the order of their keys', () => {
    expect(sameValue({ a: 1, b: [1, { c: 2 }] }, { b: [1, { c: 2 }], a: 1 })).toBe(true);
    expect(sameValue({ a: 1 }, { a: 1, b: null })).toBe(false);
    expect(sameValue([1, 2], [2, 1])).toBe(false);
    expect(sameValue(0, false)).toBe(false);
  });
});

describe('what two people have made of one album', () => {
  it('is put together where they have changed different fields, of one song too', () => {
    const mine = editWords(editRegion(five, 't2', { gainDb: -3 }), 't3', { title: 'Ebb' });
    const theirs = editWords(moveTrack(five, 't5', 0), 't2', { title: 'Neap' });
    const { mine: merged, theirs: same } = mergeEdits(five, mine, theirs);
    expect(same).toBe(merged);
    expect(ids(merged)).toBe('t5 t1 t2 t3 t4');
    expect(merged.songs.map(({ title }) => title).slice(2, 4)).toEqual(['Neap', 'Ebb']);
    expect(flat(merged, 2).gainDb).toBe(-3);
  });

  it('is both where they have changed one field, and everything else is merged', () => {
    const mine = editWords(editWords(five, 't1', { title: 'Mine' }), 't3', { title: 'Ebb' });
    const theirs = editWords(editWords(five, 't1', { title: 'Theirs' }), 't4', { title: 'Neap' });
    const merged = mergeEdits(five, mine, theirs);
    const titles = (of: Album) => of.songs.map(({ title }) => title);
    expect([titles(merged.mine)[0], titles(merged.theirs)[0]]).toEqual(['Mine', 'Theirs']);
    for (const of of [merged.mine, merged.theirs]) expect(titles(of).slice(2, 4)).toEqual(['Ebb', 'Neap']);
  });

  it('is no conflict where both have done the same', () => {
    const same = (): Album => editWords(five, 't1', { title: 'Same' });
    const merged = mergeEdits(five, same(), same());
    expect(merged.mine).toBe(merged.theirs);
  });

  it('shows both where one has taken out the song that the other has worked on', () => {
    const without = removeSongs(five, new Set(['t4']));
    const worked = editWords(five, 't4', { title: 'Neap' });
    for (const [mine, theirs, kept] of [
      [without, worked, 'theirs'],
      [worked, without, 'mine'],
    ] as const) {
      const merged = mergeEdits(five, mine, theirs);
      const [own, other] = [merged.mine, merged.theirs];
      expect(ids(kept === 'mine' ? own : other)).toBe('t1 t2 t3 t4 t5');
      expect(ids(kept === 'mine' ? other : own)).toBe('t1 t2 t3 t5');
    }
  });

  it('shows both orders where both have put the songs in another one', () => {
    const merged = mergeEdits(five, moveTrack(five, 't5', 0), moveTrack(five, 't1', 4));
    expect([ids(merged.mine), ids(merged.theirs)]).toEqual(['t5 t1 t2 t3 t4', 't2 t3 t4 t5 t1']);
  });

  it('with songs that each has brought in has them all', () => {
    const withNew = (id: string): Album => ({ ...five, songs: [...five.songs, ...album({ id }).songs] });
    expect(
      ids(mergeEdits(five, withNew('a'), withNew('b')).mine)
        ?.split(' ')
        .sort(),
    ).toEqual(['t1', 't2', 't3', 't4', 't5', 'a', 'b'].sort());
  });

  it('is what one has made where the other has done nothing', () => {
    const theirs = editWords(five, 't4', { title: 'Neap' });
    expect(mergeEdits(five, five, theirs).mine).toBe(theirs);
    expect(mergeEdits(five, theirs, five).mine).toBe(theirs);
  });
});

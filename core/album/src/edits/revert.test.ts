import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { secondsToTicks } from '@oiseau/audio/time';
import { album, flat, withSong } from '../testing.js';
import type { Album } from '../model/album.js';
import { editRegion, editWords, moveTrack, removeSongs } from './edit.js';
import { sameValue, takeBack } from './revert.js';

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

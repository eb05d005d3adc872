// @vitest-environment happy-dom
import type { AlbumRecord } from '@oiseau/api';
import { editWords, setGap } from '@oiseau/album/edits';
import { ticks } from '@oiseau/audio/time';
import { album as albumOf } from '@oiseau/album/testing';
import { act, cleanup, renderHook } from '@testing-library/react';
import { createElement, type ReactNode } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { AlbumContext, useAlbum, useAlbumFact, type AlbumValue } from './AlbumContext.js';
import { createAlbumStore } from '../workspace/album-store.js';

const record: AlbumRecord = {
  id: 'a',
  version: 1,
  album: albumOf({}, {}),
  updatedAt: '2026-11-01T10:00:00.000Z',
};

/** A view that asks for these, and counts how often it is drawn. */
const viewOf = <Name extends keyof AlbumValue>(...names: readonly Name[]) =>
  viewWith(() => useAlbum(...names));

function viewWith<T>(asks: () => T) {
  const store = createAlbumStore(record, [], { save: () => Promise.resolve(2), since: vi.fn() });
  const wrapper = ({ children }: { children: ReactNode }) =>
    createElement(AlbumContext, { value: { id: 'a', store } }, children);
  let drawn = 0;
  const { result } = renderHook(
    () => {
      drawn += 1;
      return asks();
    },
    { wrapper },
  );
  return { store, shown: result, drawn: () => drawn };
}

afterEach(cleanup);

describe('what a view asks an album for', () => {
  it('is what it gets, and it is drawn again when that changes', () => {
    const { store, shown, drawn } = viewOf('album', 'id');
    act(() => void store.edit('title', (before) => ({ ...before, title: 'Harbour' })));
    expect([shown.current.album.title, shown.current.id, drawn()]).toEqual(['Harbour', 'a', 2]);
  });

  it('is drawn for nothing else: not for saving, and not for an edit where only deeds are asked for', () => {
    const view = viewOf('edit', 'undo');
    act(() => void view.store.edit('title', (before) => ({ ...before, title: 'Harbour' })));
    expect(view.drawn()).toBe(1);
    expect(view.shown.current.edit).toBe(view.store.edit);
  });

  it('is one drawing for many edits of one tick', () => {
    const { store, shown, drawn } = viewOf('album');
    act(() => {
      for (const title of ['a', 'b', 'c'])
        store.edit('title', (before) => editWords(before, 't1', { title }));
    });
    expect([shown.current.album.songs[0]?.title, drawn()]).toEqual(['c', 2]);
  });

  it('may be one fact, and then it is drawn when that is another', () => {
    const { store, shown, drawn } = viewWith(() => useAlbumFact(({ album }) => album.title));
    act(() => void store.edit('words', (before) => editWords(before, 't1', { title: 'a' })));
    expect(drawn()).toBe(1);
    act(() => void store.edit('title', (before) => ({ ...before, title: 'Harbour' })));
    expect([shown.current, drawn()]).toEqual(['Harbour', 2]);
  });

  it('can’t be had outside an album', () => {
    vi.spyOn(console, 'error').mockImplementation(() => undefined);
    expect(() => renderHook(() => useAlbum('album'))).toThrow('useAlbum outside an album');
    vi.restoreAllMocks();
  });
});

describe('an edit', () => {
  it('gets the part as it stands, laid out after an edit of the same tick', () => {
    const { store } = viewOf('album');
    const startOf = (): number[] => {
      const starts: number[] = [];
      store.edit('look', (album, { part }) => {
        starts.push(part.placement.songs.get('t1')?.start ?? -1);
        return album;
      });
      return starts;
    };
    const before = startOf();
    store.edit('gap', (album) => setGap(album, 't1', ticks(12_345)));
    expect(startOf()).toEqual([12_345]);
    expect(before).not.toEqual([12_345]);
  });
});

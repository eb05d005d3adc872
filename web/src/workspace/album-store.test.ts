import { ApiFailure, type AlbumRecord, type MasterRecord } from '@oiseau/api';
import { removeSongs } from '@oiseau/album/edits';
import type { Album } from '@oiseau/album/model';
import { album as albumOf } from '@oiseau/album/testing';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createAlbumStore, type AlbumStore } from './album-store.js';
import type { AlbumServer } from './saving.js';

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

interface Saved {
  readonly version: number;
  readonly title: string;
  readonly closing: boolean;
}

/** A server that keeps what it is sent; `answer` may refuse. */
function serverOf(answer: () => void = () => undefined): AlbumServer & { readonly saved: Saved[] } {
  const saved: Saved[] = [];
  return {
    saved,
    save: (version, album, _saved, closing) => {
      saved.push({ version, title: album.title, closing });
      return new Promise((resolve) => {
        answer();
        resolve(version + 1);
      });
    },
    since: () =>
      Promise.resolve([{ version: 9, album: { ...albumOf({}, {}), title: 'theirs' }, who: 'Ben' }]),
  };
}

const record = (): AlbumRecord => ({
  id: 'a',
  version: 1,
  album: { ...albumOf({}, {}), title: 'first' },
  updatedAt: '2026-11-01T10:00:00.000Z',
});
const open = (server: AlbumServer = serverOf()): AlbumStore => createAlbumStore(record(), [], server);
const titled = (store: AlbumStore, title: string): number | null =>
  store.edit(`title ${title}`, (before) => ({ ...before, title }));
const titleOf = (store: AlbumStore): string => store.state().album.title;

describe('an album in hand', () => {
  it('is edited in the tick of an undo as the undo has left it', () => {
    const store = open();
    titled(store, 'second');
    store.undo();
    store.edit('label', (before) => ({ ...before, label: 'Low Light' }));
    expect([titleOf(store), store.state().album.label]).toEqual(['first', 'Low Light']);
  });

  it('is edited twice in a tick, the second time on top of the first', () => {
    const store = open();
    store.edit('title', (before) => ({ ...before, title: `${before.title}, a` }));
    store.edit('title', (before) => ({ ...before, title: `${before.title}, b` }));
    expect(titleOf(store)).toBe('first, a, b');
  });

  it('tells of every change once, and of none that changes nothing', () => {
    const store = open();
    const heard = vi.fn();
    const end = store.subscribe(heard);
    expect(store.edit('nothing', (before) => before)).toBeNull();
    store.undo();
    expect(heard).not.toHaveBeenCalled();
    titled(store, 'second');
    expect(heard).toHaveBeenCalledTimes(1);
    end();
    titled(store, 'third');
    expect(heard).toHaveBeenCalledTimes(1);
  });

  it('is laid out anew for an edit or for masters, and not for being saved', async () => {
    const store = open();
    const { parts, mastersById } = store.state();
    titled(store, 'second');
    const edited = store.state().parts;
    expect(edited).not.toBe(parts);
    await store.saveNow();
    expect(store.state().parts).toBe(edited);
    expect(store.state().mastersById).toBe(mastersById);
    const master = { sha256: 'm', info: { rate: 44_100, length: 44_100 } } as MasterRecord;
    store.noteMasters([master]);
    expect(store.state().mastersById.get('m')).toBe(master);
    expect(titleOf(store)).toBe('second');
  });
});

describe('a step by its name', () => {
  /** Two songs; the first is taken out, and its step given. */
  const withoutFirst = (store: AlbumStore): number => {
    const [first] = store.state().album.songs;
    return store.edit('taken out', (before) => removeSongs(before, new Set([first?.id ?? '']))) ?? 0;
  };
  const songs = (album: Album): string[] => album.songs.map(({ id }) => id);

  it('is undone where it was the last', () => {
    const store = open();
    const before = songs(store.state().album);
    expect(store.takeBack(withoutFirst(store))).toBe('taken back');
    expect(songs(store.state().album)).toEqual(before);
    expect(store.state().editing.future.map(({ words }) => words)).toEqual(['taken out']);
  });

  it('goes alone where others came after it, and what they did stays', () => {
    const store = open();
    const before = songs(store.state().album);
    const step = withoutFirst(store);
    titled(store, 'second');
    expect(store.takeBack(step)).toBe('taken back');
    expect(songs(store.state().album)).toEqual(before);
    expect(titleOf(store)).toBe('second');
    expect(store.state().editing.past.map(({ words }) => words)).toEqual([
      'taken out',
      'title second',
      'undone: taken out',
    ]);
    // A step like any other.
    store.undo();
    expect(songs(store.state().album)).toEqual(before.slice(1));
  });

  it('stays where a later edit has changed the same place', () => {
    const store = open();
    const step = titled(store, 'second') ?? 0;
    titled(store, 'third');
    expect(store.takeBack(step)).toBe('in the way of a later edit');
    expect(titleOf(store)).toBe('third');
  });

  it('is left alone once it is undone, and found again when it is done again', () => {
    const store = open();
    const step = withoutFirst(store);
    store.undo();
    titled(store, 'second');
    expect(store.takeBack(step)).toBe('not there any more');
    expect(titleOf(store)).toBe('second');
    const again = open();
    const other = withoutFirst(again);
    again.undo();
    again.redo();
    titled(again, 'second');
    expect(again.takeBack(other)).toBe('taken back');
  });
});

describe('saving', () => {
  it('waits until typing rests, and takes along what came meanwhile', async () => {
    const server = serverOf();
    const store = open(server);
    titled(store, 'b');
    await vi.advanceTimersByTimeAsync(300);
    titled(store, 'c');
    await vi.advanceTimersByTimeAsync(300);
    expect(server.saved).toEqual([]);
    await vi.advanceTimersByTimeAsync(60);
    expect(server.saved).toEqual([{ version: 1, title: 'c', closing: false }]);
    titled(store, 'd');
    await store.saveNow();
    expect(server.saved.at(-1)).toEqual({ version: 2, title: 'd', closing: false });
    expect(store.state().editing).toMatchObject({ saving: 'idle', version: 3 });
  });

  it('that fails is tried again, and says why meanwhile', async () => {
    let broken = true;
    const server = serverOf(() => {
      if (broken) throw new ApiFailure(0, 'The server does not answer.');
    });
    const store = open(server);
    titled(store, 'b');
    await vi.advanceTimersByTimeAsync(400);
    expect(store.state().editing).toMatchObject({ saving: 'failed', message: 'The server does not answer.' });
    broken = false;
    await vi.advanceTimersByTimeAsync(3100);
    expect(store.state().editing).toMatchObject({ saving: 'idle', version: 2, message: null });
  });

  it('stops where somebody else has changed the same field, until somebody chooses', async () => {
    const server = serverOf(() => {
      throw new ApiFailure(409, 'The album has changed in another window.');
    });
    const store = open(server);
    titled(store, 'mine');
    await vi.advanceTimersByTimeAsync(60_000);
    expect(server.saved).toHaveLength(1);
    expect(store.state().editing).toMatchObject({ saving: 'conflict', theirs: { version: 9, who: 'Ben' } });
    await expect(store.saveNow()).rejects.toThrow('Choose a version first');
    await store.takeOver();
    expect([titleOf(store), store.state().editing.version]).toEqual(['theirs', 9]);
    store.undo();
    expect(titleOf(store)).toBe('mine');
  });

  it.each(['mine', 'theirs'] as const)(
    'goes on from a conflict with %s, and with what else both have done',
    async (winner) => {
      const store = open();
      titled(store, 'mine');
      store.edit('label', (before) => ({ ...before, label: 'Low Light' }));
      const { savedAlbum } = store.state().editing;
      store.noteServer({
        version: 4,
        album: { ...savedAlbum, title: 'theirs', upc: '2000000000008' },
        who: 'Ben',
      });
      expect([titleOf(store), store.state().editing.saving]).toEqual(['mine', 'conflict']);
      store.resolve(winner);
      const { album, editing } = store.state();
      expect(album).toMatchObject({ title: winner, label: 'Low Light', upc: '2000000000008' });
      expect(editing).toMatchObject({ version: 4, theirs: null, saving: 'idle' });
      await vi.advanceTimersByTimeAsync(400);
      expect(store.state().editing).toMatchObject({ version: 5, saving: 'idle' });
      if (winner === 'mine') return;
      // The choice can be undone.
      store.undo();
      expect(titleOf(store)).toBe('mine');
    },
  );

  it('puts what somebody else does together with one’s own, and undo takes back one’s own alone', () => {
    const store = open();
    const merged = vi.fn();
    store.onMerged(merged);
    titled(store, 'mine');
    titled(store, 'mine again');
    const { savedAlbum } = store.state().editing;
    const theirs = { version: 2, album: { ...savedAlbum, label: 'Low Light' }, who: 'Ben' };
    store.noteServer(theirs);
    expect(merged).toHaveBeenCalledWith(theirs, savedAlbum);
    expect(store.state().album).toMatchObject({ title: 'mine again', label: 'Low Light' });
    expect(store.state().editing).toMatchObject({ version: 2, saving: 'idle' });
    store.undo(2);
    expect(store.state().album).toMatchObject({ title: 'first', label: 'Low Light' });
    store.redo();
    expect(store.state().album).toMatchObject({ title: 'mine', label: 'Low Light' });
  });

  it('takes what somebody else does where nothing is unsaved, and nothing that is older', () => {
    const store = open();
    const { savedAlbum } = store.state().editing;
    store.noteServer({ version: 1, album: { ...savedAlbum, title: 'stale' }, who: 'Ben' });
    expect(titleOf(store)).toBe('first');
    store.noteServer({ version: 2, album: { ...savedAlbum, title: 'theirs' }, who: 'Ben' });
    expect([titleOf(store), store.state().editing.past]).toEqual(['theirs', []]);
  });

  it('shows both whole where they break the rules of an album together', () => {
    const store = open();
    const { savedAlbum } = store.state().editing;
    const [first] = savedAlbum.songs;
    // Each alone is an album; together one song stands twice.
    const withSong = (id: string) => ({
      ...savedAlbum,
      songs: [...savedAlbum.songs, { ...first, id }] as Album['songs'],
    });
    store.edit('mine', () => withSong('new'));
    const title = 'x'.repeat(5000);
    store.noteServer({ version: 2, album: { ...withSong('other'), title } as Album, who: 'Ben' });
    expect(store.state().editing.saving).toBe('conflict');
    store.resolve('mine');
    expect(store.state().album.songs.map(({ id }) => id)).toEqual([
      ...savedAlbum.songs.map(({ id }) => id),
      'new',
    ]);
  });

  it('catches up with a version that it is told of, once, and not with its own', async () => {
    const server = serverOf();
    const since = vi.spyOn(server, 'since');
    const store = open(server);
    await store.catchUp(1);
    titled(store, 'mine');
    const saving = store.saveNow();
    await Promise.all([store.catchUp(2), saving]);
    expect(since).not.toHaveBeenCalled();
    await Promise.all([store.catchUp(9), store.catchUp(9)]);
    expect(since).toHaveBeenCalledTimes(1);
    expect([titleOf(store), store.state().editing.version]).toEqual(['theirs', 9]);
  });

  it('of a window that closes goes out at once, once', async () => {
    const server = serverOf();
    const store = open(server);
    store.saveClosing();
    titled(store, 'last words');
    store.saveClosing();
    store.saveClosing();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(server.saved).toEqual([{ version: 1, title: 'last words', closing: true }]);
  });

  it('of a view that is left goes out at once, like any other', async () => {
    const server = serverOf();
    const store = open(server);
    const leave = store.attend();
    titled(store, 'on the way out');
    leave();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(server.saved).toEqual([{ version: 1, title: 'on the way out', closing: false }]);
  });
});

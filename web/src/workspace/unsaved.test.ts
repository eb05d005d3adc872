import { ApiFailure, type AlbumRecord } from '@oiseau/api';
import { sameValue } from '@oiseau/album/edits';
import type { Album } from '@oiseau/album/model';
import { album as albumOf } from '@oiseau/album/testing';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createAlbumStore, type AlbumStore } from './album-store.js';
import type { AlbumServer } from './saving.js';
import type { UnsavedKeeper } from './unsaved-edits.js';
import { goOn, leftBehind, unsavedKeeper } from './unsaved.js';

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

/** A browser's storage, with as much room as there are characters in `room`. */
function storageOf(room = Infinity): Storage {
  const items = new Map<string, string>();
  return {
    get length() {
      return items.size;
    },
    key: (i) => [...items.keys()][i] ?? null,
    getItem: (name) => items.get(name) ?? null,
    setItem: (name, text) => {
      if (text.length > room) throw new DOMException('full', 'QuotaExceededError');
      items.set(name, text);
    },
    removeItem: (name) => void items.delete(name),
    clear: () => items.clear(),
  };
}

/** What becomes of a request: it may be lost on its way, its answer may be, and it may arrive late. */
type Fate = 'answered' | 'lost' | 'answer lost' | 'late';

/** A server that keeps versions as ours does, at the end of a bad line. */
class FarServer {
  version = 1;
  album: Album = albumOf({}, {});
  /** Requests that are still on their way. */
  readonly late: (() => void)[] = [];

  record(): AlbumRecord {
    return { id: 'a', version: this.version, album: this.album, updatedAt: '2026-11-01T10:00:00.000Z' };
  }

  #put(version: number, album: Album): number {
    if (version === this.version) {
      this.album = album;
      return ++this.version;
    }
    if (this.version === version + 1 && sameValue(album, this.album)) return this.version;
    throw new ApiFailure(409, 'changed since');
  }

  async save(version: number, album: Album, fate: Fate): Promise<number> {
    await Promise.resolve();
    const unreached = new ApiFailure(0, 'no answer');
    if (fate === 'lost') throw unreached;
    if (fate === 'late') {
      this.late.push(() => void this.#put(version, album));
      throw unreached;
    }
    const answer = this.#put(version, album);
    if (fate === 'answer lost') throw unreached;
    return answer;
  }
}

/** One visit to the album by one person; after a kill nothing of it is done or heard any more. */
function visit(storage: Storage, far: FarServer, name: string, fate: () => Fate) {
  let alive = true;
  const never = new Promise<never>(() => undefined);
  const heard = async <T>(work: Promise<T>): Promise<T> => {
    try {
      const value = await work;
      return alive ? value : await never;
    } catch (error) {
      return alive ? Promise.reject(error as Error) : never;
    }
  };
  const server: AlbumServer = {
    save: (version, album) => (alive ? heard(far.save(version, album, fate())) : never),
    since: () => heard(Promise.resolve([{ ...far.record(), who: null }])),
  };
  const record = far.record();
  const kept = unsavedKeeper(storage, 'first', 'a', name);
  const keeper: UnsavedKeeper = {
    put: (edits) => void (alive && kept.put(edits)),
    clear: () => void (alive && kept.clear()),
  };
  const store = createAlbumStore(record, [], server, keeper);
  const leave = store.attend();
  const { apart } = goOn(store, record, leftBehind(storage, 'first', 'a'));
  return {
    ...{ store, leave, apart },
    kill: () => {
      alive = false;
    },
  };
}

const label = (store: AlbumStore, text: string): void =>
  void store.edit('label', (before) => ({ ...before, label: text }));

const deed = fc.oneof(
  { weight: 5, arbitrary: fc.record({ what: fc.constant('edit' as const), ms: fc.nat(500) }) },
  { weight: 1, arbitrary: fc.record({ what: fc.constant('undo' as const), ms: fc.nat(500) }) },
  {
    weight: 3,
    arbitrary: fc.record({
      what: fc.constantFrom('leave', 'reload', 'kill', 'poll', 'late arrives'),
      ms: fc.nat(4000),
    }),
  },
);
const fates = fc.infiniteStream(
  fc.oneof(
    { weight: 3, arbitrary: fc.constant<Fate>('answered') },
    { weight: 2, arbitrary: fc.constantFrom<Fate>('lost', 'answer lost', 'late') },
  ),
);

describe('edits that are not saved yet', () => {
  it('are never lost by one who leaves, reloads or is killed, on a bad line, and are no conflict with oneself', async () => {
    let edits = 0;
    await fc.assert(
      fc.asyncProperty(fc.array(deed, { minLength: 1, maxLength: 25 }), fates, async (deeds, line) => {
        const storage = storageOf();
        const far = new FarServer();
        let bad = true;
        const fate = (): Fate => (bad ? line.next().value : 'answered');
        let visits = 0;
        const come = () => visit(storage, far, `window ${++visits}`, fate);
        let here = come();
        for (const { what, ms } of deeds) {
          const mine = here.store.state().album;
          if (what === 'edit') label(here.store, `edit ${++edits}`);
          else if (what === 'undo') here.store.undo();
          else if (what === 'poll') here.store.noteServer({ ...far.record(), who: null });
          else if (what === 'late arrives') {
            for (const arrive of far.late.splice(0))
              try {
                arrive();
              } catch {
                // The album has moved on: the server refuses, unnoticed.
              }
          } else {
            if (what === 'leave') {
              here.leave();
              // The window stays, so that answers are heard; the next visit begins at any moment.
              await vi.advanceTimersByTimeAsync(ms % 3);
            } else if (what === 'reload') {
              here.store.saveClosing();
              await vi.advanceTimersByTimeAsync(0);
            }
            here.kill();
            here = come();
            expect(here.store.state().album).toEqual(mine);
            expect(here.apart).toEqual([]);
          }
          await vi.advanceTimersByTimeAsync(ms);
          expect(here.store.state().editing.saving).not.toBe('conflict');
        }
        bad = false;
        await vi.advanceTimersByTimeAsync(5000);
        await here.store.saveNow();
        expect(far.album).toEqual(here.store.state().album);
        expect(storage.length).toBe(0);
      }),
      { numRuns: 2000 },
    );
  }, 120_000);

  it('know the first of several requests that arrive late, however often the same state is sent after it', async () => {
    const storage = storageOf();
    const far = new FarServer();
    let bad = true;
    const come = (name: string) => visit(storage, far, name, () => (bad ? 'late' : 'answered'));
    let here = come('window 0');
    label(here.store, 'first');
    await vi.advanceTimersByTimeAsync(400);
    label(here.store, 'second');
    for (let i = 1; i <= 5; i++) {
      here.leave();
      await vi.advanceTimersByTimeAsync(1);
      here.kill();
      here = come(`window ${i}`);
    }
    far.late[0]?.();
    bad = false;
    await vi.advanceTimersByTimeAsync(5000);
    expect(here.store.state().editing.saving).not.toBe('conflict');
    await here.store.saveNow();
    expect(far.album.label).toBe('second');
  });

  it('lie in the browser’s storage in the moment of the edit, and no longer than they are unsaved', async () => {
    const storage = storageOf();
    const { store } = visit(storage, new FarServer(), 'w', () => 'answered');
    label(store, 'Low Light');
    expect(leftBehind(storage, 'first', 'a').map(({ album }) => album.label)).toEqual(['Low Light']);
    // Another user of the browser, and another album, are unaffected.
    expect(leftBehind(storage, 'second', 'a')).toEqual([]);
    expect(leftBehind(storage, 'first', 'b')).toEqual([]);
    await store.saveNow();
    expect(storage.length).toBe(0);
  });

  it('are offered, and kept until somebody chooses, where another person has changed the album since', () => {
    const storage = storageOf();
    const far = new FarServer();
    const mine = visit(storage, far, 'w', () => 'lost');
    label(mine.store, 'mine');
    mine.kill();
    far.album = { ...far.album, label: 'theirs' };
    far.version++;
    const again = visit(storage, far, 'x', () => 'answered');
    expect(again.store.state().album.label).toBe('theirs');
    expect(again.apart.map(({ album }) => album.label)).toEqual(['mine']);
    expect(visit(storage, far, 'y', () => 'answered').apart).toHaveLength(1);
    again.apart[0]?.forget();
    expect(visit(storage, far, 'z', () => 'answered').apart).toEqual([]);
  });

  it('of two windows that were killed: the newer go on, the older are offered', async () => {
    const storage = storageOf();
    const far = new FarServer();
    for (const name of ['older', 'newer']) {
      await vi.advanceTimersByTimeAsync(1000);
      // Both were open before either had saved.
      const entry = unsavedKeeper(storage, 'first', 'a', name);
      entry.put({ version: 1, album: { ...far.album, label: name }, sent: [] });
    }
    const { store, apart } = visit(storage, far, 'w', () => 'answered');
    expect(store.state().album.label).toBe('newer');
    expect(apart.map(({ album }) => album.label)).toEqual(['older']);
  });

  it('go to the server as ever where the browser has no room, and what can’t be read harms nothing', async () => {
    const far = new FarServer();
    const { store } = visit(storageOf(10), far, 'w', () => 'answered');
    label(store, 'Low Light');
    await store.saveNow();
    expect(far.album.label).toBe('Low Light');
    const spoiled = storageOf();
    spoiled.setItem('oiseau.unsaved.first.a.w', '{"version":1');
    expect(leftBehind(spoiled, 'first', 'a')).toEqual([]);
  });
});

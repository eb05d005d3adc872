import type { AlbumRecord, MasterRecord } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { onChanges } from '../api/changes.js';
import { albumQuery, useServerAlbum } from '../api/queries.js';
import { useVisitor } from '../access/VisitorContext.js';
import { albumServer } from '../workspace/album-server.js';
import type { AlbumState } from '../workspace/album-state.js';
import { createAlbumStore, type AlbumActions, type AlbumStore } from '../workspace/album-store.js';
import { unsavedKeeper } from '../workspace/unsaved.js';

/** An album that is open: its id, and the store that owns its state. */
export interface OpenedAlbum {
  readonly id: string;
  readonly store: AlbumStore;
}

export const AlbumContext = createContext<OpenedAlbum | null>(null);

/** Everything that a view may ask of an album. */
export interface AlbumValue extends AlbumState, AlbumActions {
  readonly id: string;
}

export function useOpenedAlbum(): OpenedAlbum {
  const opened = useContext(AlbumContext);
  if (!opened) throw new Error('useAlbum outside an album');
  return opened;
}

/** What a view asks for of an album, by name; the view is drawn again when one of these changes, and for nothing else. */
export function useAlbum<Name extends keyof AlbumValue>(...names: readonly Name[]): Pick<AlbumValue, Name> {
  const { id, store } = useOpenedAlbum();
  const last = useRef<Pick<AlbumValue, Name>>(null);
  const snapshot = (): Pick<AlbumValue, Name> => {
    const state: AlbumState & Partial<AlbumValue> = store.state();
    const all = (name: Name): unknown =>
      name === 'id' ? id : name in state ? state[name] : store[name as keyof AlbumActions];
    const picked = last.current;
    if (picked && names.every((name) => Object.is(picked[name], all(name)))) return picked;
    return (last.current = Object.fromEntries(names.map((name) => [name, all(name)])) as Pick<
      AlbumValue,
      Name
    >);
  };
  return useSyncExternalStore(store.subscribe, snapshot);
}

/** Something that follows from the album in hand; a view is drawn again when that is another, and not with every edit. @param of gives the same value as long as nothing has changed: a word, a number, or what the album holds */
export function useAlbumFact<T>(of: (state: AlbumState) => T): T {
  const { store } = useOpenedAlbum();
  return useSyncExternalStore(store.subscribe, () => of(store.state()));
}

/** Tells this window from others that have the same album open. */
const windowName = (): string => `${Date.now().toString(36)}-${Math.random().toString(36).slice(2)}`;

/** The next change tries again. */
const ignored = (): void => undefined;

/** Opens a store for an album that was loaded, and keeps it level with the server. */
export function useAlbumStore(record: AlbumRecord, masters: readonly MasterRecord[]): AlbumStore {
  const { id } = record;
  const { id: keyId } = useVisitor();
  const [store] = useState(() =>
    createAlbumStore(record, masters, albumServer(id), unsavedKeeper(localStorage, keyId, id, windowName())),
  );
  useEffect(() => store.noteMasters(masters), [store, masters]);
  // Without the channel of changes, the album is polled.
  const server = useServerAlbum(id).data;
  useEffect(() => {
    if (server) store.noteServer({ ...server, who: null });
  }, [store, server]);
  useEffect(
    () =>
      onChanges({
        changed: ({ topic, album, version }) => {
          if (topic === 'album' && album === id && version !== null)
            void store.catchUp(version).catch(ignored);
        },
        missed: () => void store.catchUp(Infinity).catch(ignored),
      }),
    [store, id],
  );
  const queries = useQueryClient();
  // The next visit finds the album as it was left.
  useEffect(
    () => () => {
      const { savedAlbum: album, version } = store.state().editing;
      queries.setQueryData(albumQuery(id).queryKey, (last) =>
        last && last.version < version ? { ...last, album, version } : last,
      );
    },
    [store, queries, id],
  );
  // A window that is closed or a view that is left right after an edit still saves it.
  useEffect(() => {
    const leave = store.attend();
    window.addEventListener('pagehide', store.saveClosing);
    return () => {
      window.removeEventListener('pagehide', store.saveClosing);
      leave();
    };
  }, [store]);
  return store;
}

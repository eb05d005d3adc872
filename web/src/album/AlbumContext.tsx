import { CONTRACT, type AlbumRecord, type MasterRecord } from '@oiseau/api';
import { createContext, useContext, useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { call } from '../api/client.js';
import { useServerAlbum } from '../api/queries.js';
import { createAlbumStore, type AlbumDeeds, type AlbumState, type AlbumStore } from './album-store.js';

/** An album that is open: its id, and the store that owns its state. */
export interface OpenedAlbum {
  readonly id: string;
  readonly store: AlbumStore;
}

export const AlbumContext = createContext<OpenedAlbum | null>(null);

/** Everything that a view may ask of an album. */
export interface AlbumValue extends AlbumState, AlbumDeeds {
  readonly id: string;
}

function useOpenedAlbum(): OpenedAlbum {
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
      name === 'id' ? id : name in state ? state[name] : store[name as keyof AlbumDeeds];
    const picked = last.current;
    if (picked && names.every((name) => Object.is(picked[name], all(name)))) return picked;
    return (last.current = Object.fromEntries(names.map((name) => [name, all(name)])) as Pick<
      AlbumValue,
      Name
    >);
  };
  return useSyncExternalStore(store.subscribe, snapshot);
}

/** Opens a store for an album that was loaded, and keeps it level with the server. */
export function useAlbumStore(record: AlbumRecord, masters: readonly MasterRecord[]): AlbumStore {
  const { id } = record;
  const [store] = useState(() =>
    createAlbumStore(record, masters, {
      save: async (version, album, keepalive) =>
        (await call(CONTRACT.saveAlbum, { params: { id }, body: { version, album } }, { keepalive })).version,
      load: () => call(CONTRACT.album, { params: { id } }),
    }),
  );
  useEffect(() => store.noteMasters(masters), [store, masters]);
  const server = useServerAlbum(id).data;
  useEffect(() => {
    if (server) store.noteServer(server);
  }, [store, server]);
  // A window that is closed or a view that is left right after an edit still saves it.
  useEffect(() => {
    window.addEventListener('pagehide', store.flush);
    return () => {
      window.removeEventListener('pagehide', store.flush);
      store.flush();
    };
  }, [store]);
  return store;
}

import { appendSongs, newSong, titleFromFileName } from '@oiseau/core';
import { useQueryClient } from '@tanstack/react-query';
import {
  createContext,
  useContext,
  useEffect,
  useRef,
  useState,
  useSyncExternalStore,
  type ReactNode,
} from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { mastersKey } from '../api/queries.js';
import { count } from '../ui/format.js';
import { UploadQueue, type Upload } from './uploads.js';

const UploadContext = createContext<UploadQueue | null>(null);

export function useUploads(): { queue: UploadQueue; uploads: readonly Upload[] } {
  const queue = useContext(UploadContext);
  if (!queue) throw new Error('useUploads outside an album');
  return { queue, uploads: useSyncExternalStore(queue.subscribe, () => queue.uploads) };
}

/** Uploads belong to the album, not to a view: they go on while a person looks at something else. */
export function UploadProvider({ children }: { children: ReactNode }) {
  const { id, edit } = useAlbum('id', 'edit');
  const queries = useQueryClient();
  const onArrived = useRef<UploadQueue['arrived']>(() => undefined);
  const [queue] = useState(() => new UploadQueue(id, (masters) => onArrived.current(masters)));
  useEffect(() => {
    onArrived.current = (masters) => {
      void queries.invalidateQueries({ queryKey: mastersKey(id) }).then(() => {
        const songs = masters.map(({ name, sha256 }) =>
          newSong(crypto.randomUUID(), sha256, titleFromFileName(name)),
        );
        edit(`${count(songs.length, 'track')} from new masters`, (album) => appendSongs(album, songs));
      });
    };
  });
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent): void => {
      if (queue.uploads.some(({ state }) => state === 'waiting' || state === 'sending' || state === 'judged'))
        event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, [queue]);
  return <UploadContext value={queue}>{children}</UploadContext>;
}

import { useQueryClient } from '@tanstack/react-query';
import { createContext, useContext, useSyncExternalStore, type ReactNode } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { uploadQueueOf } from './upload-queues.js';
import type { Upload, UploadQueue } from './uploads.js';

const UploadContext = createContext<UploadQueue | null>(null);

export function useUploads(): { queue: UploadQueue; uploads: readonly Upload[] } {
  const queue = useContext(UploadContext);
  if (!queue) throw new Error('useUploads outside an album');
  return { queue, uploads: useSyncExternalStore(queue.subscribe, () => queue.uploads) };
}

/** Uploads belong to the album, not to a view: they go on while a person looks at something else, or at another album. */
export function UploadProvider({ children }: { children: ReactNode }) {
  const { id } = useAlbum('id');
  const queue = uploadQueueOf(id, useQueryClient());
  return <UploadContext value={queue}>{children}</UploadContext>;
}

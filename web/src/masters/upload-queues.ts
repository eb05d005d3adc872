import type { QueryClient } from '@tanstack/react-query';
import { mastersKey } from '../api/queries.js';
import { UploadQueue } from './uploads.js';

/** One queue for each album that files were brought into in this window: they go on whatever is looked at meanwhile. */
const queues = new Map<string, UploadQueue>();

export function uploadQueueOf(albumId: string, queries: QueryClient): UploadQueue {
  const known = queues.get(albumId);
  if (known) return known;
  if (queues.size === 0) window.addEventListener('beforeunload', warn);
  const queue = new UploadQueue(
    albumId,
    () => void queries.invalidateQueries({ queryKey: mastersKey(albumId) }),
  );
  queues.set(albumId, queue);
  return queue;
}

/** The queue of an album that files are on their way into; undefined where none are. */
export const busyQueueOf = (albumId: string): UploadQueue | undefined => {
  const queue = queues.get(albumId);
  return queue?.isBusy ? queue : undefined;
};

function warn(event: BeforeUnloadEvent): void {
  if ([...queues.values()].some(({ isBusy }) => isBusy)) event.preventDefault();
}

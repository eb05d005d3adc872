import { albumDocument, readAlbumDocument } from '@oiseau/album/file';
import { sameValue } from '@oiseau/album/edits';
import type { AlbumRecord } from '@oiseau/api';
import * as z from 'zod';
import type { AlbumStore } from './album-store.js';
import type { LeftBehind, UnsavedEdits, UnsavedKeeper } from './unsaved-edits.js';

const PREFIX = 'oiseau.unsaved';
/** States without an answer that are kept; more of them come only from a line that is bad for long. */
const MOST_SENT = 3;

const stored = z.object({
  version: z.int(),
  at: z.iso.datetime(),
  album: z.unknown(),
  sent: z.array(z.unknown()),
});

/** What begins the names of what one person has left of one album. */
const place = (keyId: string, albumId: string): string => `${PREFIX}.${keyId}.${albumId}.`;

/**
 * @param storage of the browser: it outlives the window
 * @param window tells windows apart that have the same album open
 */
export function unsavedKeeper(
  storage: Storage,
  keyId: string,
  albumId: string,
  window: string,
  now: () => Date = () => new Date(),
): UnsavedKeeper {
  const name = place(keyId, albumId) + window;
  return {
    put({ version, album, sent }) {
      const entry: z.input<typeof stored> = {
        version,
        at: now().toISOString(),
        album: albumDocument(album),
        sent: sent.slice(-MOST_SENT).map(albumDocument),
      };
      try {
        storage.setItem(name, JSON.stringify(entry));
      } catch {
        // A browser without room keeps nothing; the server has it in a third of a second.
      }
    },
    clear: () => storage.removeItem(name),
  };
}

/** What earlier windows have left of an album, the newest first; what can't be read any more stays where it is. */
export function leftBehind(storage: Storage, keyId: string, albumId: string): LeftBehind[] {
  const names = Array.from({ length: storage.length }, (_, i) => storage.key(i) ?? '').filter((name) =>
    name.startsWith(place(keyId, albumId)),
  );
  return names
    .flatMap((name): LeftBehind[] => {
      try {
        const { version, at, album, sent } = stored.parse(JSON.parse(storage.getItem(name) ?? ''));
        return [
          {
            version,
            album: readAlbumDocument(album),
            sent: sent.map(readAlbumDocument),
            at: new Date(at),
            forget: () => storage.removeItem(name),
          },
        ];
      } catch {
        return [];
      }
    })
    .sort((a, b) => b.at.getTime() - a.at.getTime());
}

type OnServer = Pick<AlbumRecord, 'album' | 'version'>;

/** Whether nothing has happened to an album since some edits were made but what they contain themselves. */
const standAlone = ({ version, sent }: UnsavedEdits, server: OnServer): boolean =>
  version === server.version || sent.some((state) => sameValue(state, server.album));

/**
 * Goes on from edits that earlier windows have left behind, where the album hasn't changed since; those that the server has are
 * forgotten.
 * @param entries the newest first
 * @returns the step that they became; and those that stand apart from what the album has become, which stay kept
 */
export function goOn(
  store: Pick<AlbumStore, 'resume'>,
  server: OnServer,
  entries: readonly LeftBehind[],
): { step: number | null; apart: LeftBehind[] } {
  const apart: LeftBehind[] = [];
  let step: number | null = null;
  for (const entry of entries) {
    const alone = standAlone(entry, server);
    const saved = sameValue(entry.album, server.album);
    if (!saved && (step !== null || !alone)) apart.push(entry);
    else {
      // The store keeps them under a name of its own before this one goes. Of what is saved only a state that was sent before may still arrive.
      if (saved ? entry.version === server.version : alone) step = store.resume(entry) ?? step;
      entry.forget();
    }
  }
  return { step, apart };
}

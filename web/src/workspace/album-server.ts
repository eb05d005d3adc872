import { ApiFailure, CONTRACT } from '@oiseau/api';
import { patchBetween, patched } from '@oiseau/album/edits';
import { albumDocument, readAlbumDocument } from '@oiseau/album/file';
import type { Album } from '@oiseau/album/model';
import { replaceEqualDeep } from '@tanstack/react-query';
import { call } from '../api/client.js';
import type { NewerAlbum } from './merging.js';
import type { AlbumServer } from './saving.js';

/** Characters of a request that a browser carries on after its page has gone: 64 KiB in all, of which other requests may have some. */
const MOST_KEPT_ALIVE = 30_000;

/** An album on our server: edits go there, and come from there, as JSON Patch of its document. */
export const albumServer = (id: string): AlbumServer => ({
  async save(version, album, saved, closing) {
    const body = { version, patch: patchBetween(albumDocument(saved), albumDocument(album)) };
    // A browser refuses more than that outright; without it the request may still get through.
    const keepalive = closing && JSON.stringify(body).length < MOST_KEPT_ALIVE;
    const params = { id };
    try {
      return (await call(CONTRACT.changeAlbum, { params, body }, { keepalive })).version;
    } catch (error) {
      if (!(error instanceof ApiFailure && 'misfit' in error.details)) throw error;
      // That version is another one there than here: it is told as a whole what it should be.
      return (await call(CONTRACT.saveAlbum, { params, body: { version, album } })).version;
    }
  },
  async since(version, saved) {
    const found = await call(CONTRACT.albumChanges, { params: { id }, query: { after: version } });
    if (!found.changes) return found.album ? [{ version: found.version, album: found.album, who: null }] : [];
    const states: NewerAlbum[] = [];
    let before = saved;
    for (const [i, { who, patch }] of found.changes.entries()) {
      before = changed(before, patch);
      states.push({ version: version + i + 1, album: before, who });
    }
    return states;
  },
});

/** An album after a change; what is the same stays the same object, so that nothing is laid out or drawn for it. */
const changed = (album: Album, patch: Parameters<typeof patched>[1]): Album =>
  replaceEqualDeep(album, readAlbumDocument(patched(albumDocument(album), patch)));

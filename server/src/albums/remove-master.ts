import { msg } from '@oiseau/messages';
import { mastersOfSong } from '@oiseau/album/model';
import { findAlbum } from './album-repository.js';
import type { Database } from '../db/database.js';
import { revisionWith } from './revision-repository.js';
import { ApiError, notFound } from '../http/api-error.js';
import { unlinkMaster } from '../masters/master-repository.js';

/**
 * Takes a master out of an album. One that a song plays stays, and so does one that a revision plays, since that can be rendered again.
 * @throws ApiError 409 with who plays it, 404
 */
export function removeMaster(db: Database, albumId: string, sha256: string): Promise<void> {
  return db.transaction(async (transaction) => {
    const record = await findAlbum(transaction, albumId);
    if (!record) throw notFound('album');
    const player = record.album.songs.find((song) => mastersOfSong(song).includes(sha256));
    if (player)
      throw new ApiError(409, msg('“{title}” uses this master.', { title: player.title || 'A track' }));
    const revision = await revisionWith(transaction, albumId, sha256);
    if (revision !== undefined)
      throw new ApiError(
        409,
        msg('Revision {revision} uses this master. It is kept so that the revision can be rendered again.', {
          revision,
        }),
      );
    if (!(await unlinkMaster(transaction, albumId, sha256))) throw notFound('master');
  });
}

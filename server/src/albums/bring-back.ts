import { msg } from '@oiseau/messages';
import { mastersOfSong, type Album } from '@oiseau/album/model';
import type { Db } from '../db/database.js';
import { revisionWith } from './revision-repository.js';
import { ApiError } from '../http/api-error.js';
import { linkMaster, mastersByKey, masterKeysOfAlbum } from '../masters/master-repository.js';

/**
 * A song plays masters of its album only. One that has left it, but that a revision still plays, comes back with that revision.
 * @param played SHA-256 of the masters that the album plays
 * @param albumOf reads it, for the titles of songs whose masters come back
 * @throws ApiError when the album can't have a master that it plays
 */
export async function bringBackMasters(
  db: Db,
  id: string,
  played: readonly string[],
  albumOf: () => Album,
): Promise<void> {
  const here = new Set(await masterKeysOfAlbum(db, id));
  const gone = played.filter((sha256) => !here.has(sha256));
  if (gone.length === 0) return;
  const known = await mastersByKey(db, id, gone);
  const revisions = await Promise.all(gone.map((sha256) => revisionWith(db, id, sha256)));
  if (known.length < gone.length || revisions.includes(undefined))
    throw new ApiError(422, msg('A track uses a master that isn’t in this album.'));
  const album = albumOf();
  for (const sha256 of gone) {
    const { title } = album.songs.find((song) => mastersOfSong(song).includes(sha256)) ?? {};
    await linkMaster(db, id, sha256, `${title || sha256}.wav`);
  }
}

import { layOutAlbum, type Album, type CheckSubject } from '@oiseau/core';
import type { Db } from '../db/database.js';
import { mastersByKey } from '../masters/master-repository.js';
import { factsOf, playedMasters } from './shelf.js';

/** The rules' view of an album or a revision of it, with what was measured of its masters. */
export async function checkSubjectOf(db: Db, albumId: string, album: Album): Promise<CheckSubject> {
  const records = await mastersByKey(db, albumId, playedMasters(album));
  const masters = factsOf(records);
  const details = new Map(records.map((master) => [master.sha256, master]));
  return { album, masters, details, parts: layOutAlbum(album, masters) };
}

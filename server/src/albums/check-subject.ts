import type { Album } from '@oiseau/core';
import type { Db } from '../db/database.js';
import type { Unchecked } from '../http/thinker.js';
import { mastersByKey } from '../masters/master-repository.js';
import { factsOf, playedMasters } from './shelf.js';

/** An album or a revision of it, with what was measured of its masters. */
export async function uncheckedOf(db: Db, albumId: string, album: Album): Promise<Unchecked> {
  const records = await mastersByKey(db, albumId, playedMasters(album));
  const details = new Map(records.map((master) => [master.sha256, master]));
  return { album, masters: factsOf(records), details };
}

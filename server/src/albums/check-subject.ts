import { layOutAlbum, soundsOf, type Album } from '@oiseau/core';
import type { Db } from '../db/database.js';
import type { Unchecked } from '../http/thinker.js';
import { mastersByKey } from '../masters/master-repository.js';
import { figuresOf } from '../sounds/sound-repository.js';
import { factsOf, playedMasters } from './shelf.js';

/** An album or a revision of it, with what was measured of its masters and of what is done to them. */
export async function uncheckedOf(db: Db, albumId: string, album: Album): Promise<Unchecked> {
  const records = await mastersByKey(db, albumId, playedMasters(album));
  const details = new Map(records.map((master) => [master.sha256, master]));
  const masters = factsOf(records);
  const sounds = await figuresOf(db, albumId, soundsOf(layOutAlbum(album, masters)));
  return { album, masters, details, sounds };
}

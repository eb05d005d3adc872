import { layOutAlbum } from '@oiseau/album/layout';
import { mastersPlayed, type Album } from '@oiseau/album/model';
import { lineUpsOf, sideQuestion, soundsOf } from '@oiseau/album/measured';
import type { Db } from '../db/database.js';
import type { Unchecked } from '../http/compute-pool.js';
import { mastersByKey } from '../masters/master-repository.js';
import { figuresOf, figuresOfSides, foundLineUps } from '../sounds/sound-repository.js';
import { factsOf } from './shelf.js';

/** An album or a revision of it, with what was measured of its masters and of what is done to them. */
export async function uncheckedOf(db: Db, albumId: string, album: Album): Promise<Unchecked> {
  const records = await mastersByKey(db, albumId, mastersPlayed(album));
  const details = new Map(records.map((master) => [master.sha256, master]));
  const masters = factsOf(records);
  const parts = layOutAlbum(album, masters);
  const sounds = await figuresOf(db, albumId, soundsOf(parts));
  const lineUps = await foundLineUps(db, albumId, lineUpsOf(album));
  const sides = await figuresOfSides(
    db,
    albumId,
    parts.flatMap((part) => sideQuestion(part) ?? []),
  );
  return { album, masters, details, sounds, lineUps, sides };
}

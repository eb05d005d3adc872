import { randomUUID } from 'node:crypto';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { systemCode } from '@oiseau/host';
import type { Db } from '../db/database.js';
import type { MediaStore } from './media-store.js';

/** Says which store a folder is: a worker on another machine must see the very one that the database belongs to. */
const fileOf = (media: MediaStore): string => join(media.root, 'store.id');

const read = (media: MediaStore): Promise<string> =>
  readFile(fileOf(media), 'utf8').then(
    (text) => text.trim(),
    () => '',
  );

/** Marks the store of a server as the one of its database; a copied or restored one is marked anew. */
export async function markStore(db: Db, media: MediaStore): Promise<void> {
  const known = await db.maybeOne((row) => String(row.id), 'SELECT id FROM media_store LIMIT 1');
  const id = known ?? randomUUID();
  if (known === undefined) await db.execute('INSERT INTO media_store (id) VALUES (?)', [id]);
  if ((await read(media)) !== id) await writeFile(fileOf(media), `${id}\n`);
}

/** @throws Error whose message says that this is not the store of the database */
export async function demandStore(db: Db, media: MediaStore): Promise<void> {
  const id = await db.maybeOne((row) => String(row.id), 'SELECT id FROM media_store LIMIT 1');
  if (id !== undefined && (await read(media)) === id) {
    const probe = media.scratch();
    try {
      await writeFile(probe, '', { flag: 'wx' });
    } catch (cause) {
      const why = systemCode(cause) ?? 'unknown';
      throw new Error(`It can’t write into the media store at ${media.root} (${why}).`, { cause });
    }
    await rm(probe, { force: true });
    return;
  }
  throw new Error(
    `It does not see the media store of this database at ${media.root}; OISEAU_MEDIA names where it is.`,
  );
}

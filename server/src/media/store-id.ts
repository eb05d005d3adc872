import { randomUUID } from 'node:crypto';
import { readFile, rm, stat, statfs, writeFile } from 'node:fs/promises';
import { syncFile, systemCode } from '@oiseau/host';
import type { Db } from '../db/database.js';
import type { MediaStore } from './media-store.js';

const UUID = /^[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}$/;

const knownId = (db: Db): Promise<string | undefined> =>
  db.maybeOne((row) => String(row.id), 'SELECT id FROM media_store LIMIT 1');

/** Marks a folder as the store of the database: a new one, or one whose mark is damaged. */
async function mark(media: MediaStore, id: string): Promise<void> {
  await writeFile(media.markFile, `${id}\n`);
  await syncFile(media.markFile);
}

/**
 * Recognises the media store of a database by its mark, and marks a new one. A folder that belongs to another database, or that is empty
 * while the database names files (a share that was not mounted), is never adopted: what was imported into it would vanish with it.
 * @returns what is wrong, in a sentence; null: it is there
 */
export async function recogniseStore(db: Db, media: MediaStore): Promise<string | null> {
  const known = await knownId(db);
  const found = (await readFile(media.markFile, 'utf8').catch(() => '')).trim();
  const id = known ?? (UUID.test(found) ? found : randomUUID());
  media.expect(id);
  if (known === undefined) {
    await media.prepare();
    if (found !== id) await mark(media, id);
    await db.execute('INSERT INTO media_store (id) VALUES (?)', [id]);
    return null;
  }
  // A mark that was emptied or cut: the files tell whose store it is.
  if (found !== id && !UUID.test(found) && (await holdsOurFiles(db, media))) await mark(media, id);
  try {
    await media.demandReady();
    return null;
  } catch (error) {
    return error instanceof Error ? error.message : String(error);
  }
}

/** Marks a folder that was just restored. */
export async function markRestored(db: Db, media: MediaStore): Promise<void> {
  const id = (await knownId(db)) ?? randomUUID();
  await db.execute('DELETE FROM media_store');
  await db.execute('INSERT INTO media_store (id) VALUES (?)', [id]);
  await mark(media, id);
}

/** Whether a folder holds what the database names: one of its newest files, or a database that names none has a store at all. */
async function holdsOurFiles(db: Db, media: MediaStore): Promise<boolean> {
  const newest = await db.many(
    (row) => String(row.sha256),
    `(SELECT sha256 FROM masters ORDER BY created_at DESC LIMIT 10) UNION ALL (SELECT sha256 FROM pictures ORDER BY created_at DESC LIMIT 10)`,
  );
  const there = (path: string): Promise<boolean> =>
    stat(path).then(
      () => true,
      () => false,
    );
  if (newest.length === 0) return there(media.uploads);
  for (const sha256 of newest) if (await there(media.file(sha256))) return true;
  return false;
}

/** @throws Error whose message says why no job can be done with the store */
export async function demandStore(db: Db, media: MediaStore): Promise<void> {
  const id = await knownId(db);
  if (id === undefined) throw new Error(`The media store at ${media.root} has no mark yet.`);
  media.expect(id);
  const trouble = await troubleOfStore(media);
  if (trouble !== null) throw new Error(trouble);
}

/** Why nothing can be written to the media store at the moment, asked of the disk itself; null: it can. */
export async function troubleOfStore(media: MediaStore): Promise<string | null> {
  try {
    await media.demandReady();
    const probe = media.scratch();
    await writeFile(probe, '', { flag: 'wx' });
    await rm(probe, { force: true });
    return null;
  } catch (error) {
    const code = systemCode(error);
    if (code === undefined) return error instanceof Error ? error.message : String(error);
    const noInodes = code === 'ENOSPC' && (await statfs(media.root).catch(() => null))?.ffree === 0;
    return noInodes
      ? `The disk of the media store at ${media.root} is out of inodes. Delete files you don’t need.`
      : `The media store at ${media.root} can’t be written to: ${WHY[code] ?? code}.`;
  }
}

const WHY: Readonly<Record<string, string>> = {
  EROFS: 'its disk is read-only',
  EACCES: 'it belongs to another user',
  EPERM: 'it belongs to another user',
  ENOSPC: 'its disk is full',
  EDQUOT: 'its quota is used up',
  ENOENT: 'a folder of it is missing',
  EIO: 'its disk reports errors',
  ESTALE: 'its share was disconnected',
  ENOTCONN: 'its share was disconnected',
};

import { msg } from '@oiseau/messages';
import { albumDocument, describeIssues, LaterDocument, readAlbumDocument } from '@oiseau/album/file';
import { Failure } from '@oiseau/audio/errors';
import type { Album } from '@oiseau/album/model';
import { ZodError } from 'zod';
import type { Database, Db, Parse } from '../db/database.js';

export interface AlbumRecord {
  readonly id: string;
  /** Grows by one with every saved edit. */
  readonly version: number;
  readonly album: Album;
  readonly updatedAt: Date;
}

const parse: Parse<AlbumRecord> = (row) => ({
  ...headOf(row),
  album: parseDocument(String(row.document)),
});

const headOf = (row: Readonly<Record<string, unknown>>): Omit<AlbumRecord, 'album'> => ({
  id: String(row.id),
  version: Number(row.version),
  updatedAt: row.updated_at as Date,
});

/** A document that was kept and can't be read any more. The rest of the Shelf works; its raw text can be saved, an earlier revision brought back. */
export class DamagedAlbum extends Failure {
  override readonly name = 'DamagedAlbum';
  readonly code = 'damaged-album';
  readonly status = 422;
}

/**
 * A stored album, validated: what an older version wrote is brought up to date here before anyone sees it.
 * @throws DamagedAlbum, which names the field; LaterDocument
 */
export function parseDocument(text: string): Album {
  try {
    return readAlbumDocument(JSON.parse(text));
  } catch (cause) {
    if (cause instanceof LaterDocument) throw cause;
    const where = cause instanceof ZodError ? ` ${describeIssues(cause)[0] ?? ''}` : '';
    throw new DamagedAlbum(msg('This album is damaged.{where}', { where }), { cause });
  }
}

/** An album for its column. @throws ZodError before unreadable data is stored */
export function documentText(album: Album): string {
  const text = JSON.stringify(albumDocument(album));
  readAlbumDocument(JSON.parse(text));
  return text;
}

const COLUMNS = 'id, version, document, updated_at';

/** null where it can't be read. */
export function readableDocument(text: string): Album | null {
  try {
    return parseDocument(text);
  } catch {
    return null;
  }
}

/** The stored document, readable or not. */
export function findRawAlbum(
  db: Db,
  id: string,
): Promise<(Omit<AlbumRecord, 'album'> & { readonly text: string }) | undefined> {
  return db.maybeOne(
    (row) => ({ ...headOf(row), text: String(row.document) }),
    `SELECT ${COLUMNS} FROM albums WHERE id = ? AND deleted_at IS NULL`,
    [id],
  );
}

/** Puts a state in the place of whatever stands there, readable or not. */
export async function overwriteAlbum(db: Db, id: string, album: Album): Promise<void> {
  await db.execute(
    'UPDATE albums SET document = ?, version = version + 1, updated_at = UTC_TIMESTAMP(3) WHERE id = ?',
    [documentText(album), id],
  );
}

/** Whether no album was ever made, deleted ones included: then the demo has not been loaded either. */
export function isUntouched(db: Db): Promise<boolean> {
  return db.one((row) => Number(row.count) === 0, 'SELECT COUNT(*) AS count FROM albums');
}

export function findAlbum(db: Db, id: string): Promise<AlbumRecord | undefined> {
  return db.maybeOne(parse, `SELECT ${COLUMNS} FROM albums WHERE id = ? AND deleted_at IS NULL`, [id]);
}

/** Locks the album until the transaction ends. */
export async function lockAlbum(db: Db, id: string): Promise<void> {
  await db.maybeOne((row) => row.id, 'SELECT id FROM albums WHERE id = ? FOR UPDATE', [id]);
}

export const insertAlbum = (db: Db, id: string, album: Album): Promise<void> =>
  insertDocument(db, id, documentText(album));

/** @param text what `documentText` makes of an album */
export async function insertDocument(db: Db, id: string, text: string): Promise<void> {
  await db.execute(
    'INSERT INTO albums (id, document, version, created_at, updated_at) VALUES (?, ?, 1, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))',
    [id, text],
  );
}

/**
 * Saves a new state over `version`; false when the album has moved on (or is gone) since.
 * @param text what `documentText` makes of it
 */
export async function saveAlbum(db: Db, id: string, version: number, text: string): Promise<boolean> {
  const { changed } = await db.execute(
    'UPDATE albums SET document = ?, version = version + 1, updated_at = UTC_TIMESTAMP(3) WHERE id = ? AND version = ? AND deleted_at IS NULL',
    [text, id, version],
  );
  return changed === 1;
}

/** A change of an album as it is kept for who has an earlier version. */
export interface KeptChange {
  readonly version: number;
  readonly who: string;
  /** JSON */
  readonly patch: string;
}

/** The changes after a version, in order. */
export const changesSince = (db: Db, id: string, version: number): Promise<KeptChange[]> =>
  db.many(
    (row) => ({ version: Number(row.version), who: String(row.who), patch: String(row.patch) }),
    'SELECT version, who, patch FROM album_changes WHERE album_id = ? AND version > ? ORDER BY version',
    [id, version],
  );

/** The same as `saveAlbum`, with what has changed. */
export function saveChange(
  database: Database,
  id: string,
  text: string,
  { version, who, patch }: KeptChange,
): Promise<boolean> {
  return database.transaction(async (db) => {
    if (!(await saveAlbum(db, id, version - 1, text))) return false;
    await db.execute(
      'INSERT INTO album_changes (album_id, version, patch, who, at) VALUES (?, ?, ?, ?, UTC_TIMESTAMP(3))',
      [id, version, patch, who],
    );
    return true;
  });
}

/** Who has had an album open for longer gets it whole. */
export async function forgetOldChangesOfAlbums(db: Db): Promise<void> {
  await db.execute('DELETE FROM album_changes WHERE at < UTC_TIMESTAMP(3) - INTERVAL 1 DAY');
}

export async function deleteAlbum(db: Db, id: string): Promise<boolean> {
  return (
    (
      await db.execute(
        'UPDATE albums SET deleted_at = UTC_TIMESTAMP(3) WHERE id = ? AND deleted_at IS NULL',
        [id],
      )
    ).changed === 1
  );
}

export async function restoreAlbum(db: Db, id: string): Promise<boolean> {
  return (
    (await db.execute('UPDATE albums SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL', [id]))
      .changed === 1
  );
}

import { albumDocument, readAlbumDocument, type Album } from '@oiseau/core';
import type { Db, Parse } from '../db/database.js';

export interface AlbumRecord {
  readonly id: string;
  /** Grows by one with every saved edit. */
  readonly version: number;
  readonly album: Album;
  readonly updatedAt: Date;
}

const parse: Parse<AlbumRecord> = (row) => ({
  id: String(row.id),
  version: Number(row.version),
  album: parseDocument(String(row.document)),
  updatedAt: row.updated_at as Date,
});

/** A stored album, validated: what an older version wrote is brought up to date here before anyone sees it. */
export function parseDocument(text: string): Album {
  return readAlbumDocument(JSON.parse(text));
}

const COLUMNS = 'id, version, document, updated_at';

export function listAlbums(db: Db): Promise<AlbumRecord[]> {
  return db.many(
    parse,
    `SELECT ${COLUMNS} FROM albums WHERE deleted_at IS NULL ORDER BY updated_at DESC, id`,
  );
}

/** Whether no album was ever made, deleted ones included: then the demo has not been loaded either. */
export function isUntouched(db: Db): Promise<boolean> {
  return db.one((row) => Number(row.count) === 0, 'SELECT COUNT(*) AS count FROM albums');
}

export function findAlbum(db: Db, id: string): Promise<AlbumRecord | undefined> {
  return db.maybeOne(parse, `SELECT ${COLUMNS} FROM albums WHERE id = ? AND deleted_at IS NULL`, [id]);
}

/** Makes whoever else locks the album wait until the transaction has ended. */
export async function lockAlbum(db: Db, id: string): Promise<void> {
  await db.maybeOne((row) => row.id, 'SELECT id FROM albums WHERE id = ? FOR UPDATE', [id]);
}

export async function insertAlbum(db: Db, id: string, album: Album): Promise<void> {
  await db.execute(
    'INSERT INTO albums (id, document, version, created_at, updated_at) VALUES (?, ?, 1, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))',
    [id, JSON.stringify(albumDocument(album))],
  );
}

/** Saves a new state over `version`; false when the album has moved on (or is gone) since. */
export async function saveAlbum(db: Db, id: string, version: number, album: Album): Promise<boolean> {
  const { changed } = await db.execute(
    'UPDATE albums SET document = ?, version = version + 1, updated_at = UTC_TIMESTAMP(3) WHERE id = ? AND version = ? AND deleted_at IS NULL',
    [JSON.stringify(albumDocument(album)), id, version],
  );
  return changed === 1;
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

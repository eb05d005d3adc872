import { z } from 'zod';
import { SAMPLE_RATES, type Measurement, type PcmInfo } from '@oiseau/core';
import type { Db, Parse } from '../db/database.js';

export interface MasterRecord {
  readonly sha256: string;
  readonly bytes: number;
  readonly info: PcmInfo;
  /** null until a worker has measured it. */
  readonly measurement: Measurement | null;
}

/** A master as one album knows it: under the name of the file that was brought in. */
export interface AlbumMaster extends MasterRecord {
  readonly name: string;
  readonly addedAt: Date;
}

const infoSchema = z.object({
  container: z.enum(['RIFF', 'RF64', 'BW64']),
  rate: z.literal([...SAMPLE_RATES]),
  channels: z.int(),
  format: z.enum(['int16', 'int24', 'int32', 'float32', 'float64']),
  validBits: z.int(),
  length: z.int(),
  dataOffset: z.int(),
}) satisfies z.ZodType<PcmInfo>;

const parse: Parse<MasterRecord> = (row) => ({
  sha256: String(row.sha256),
  bytes: Number(row.bytes),
  info: infoSchema.parse(JSON.parse(String(row.info))),
  measurement: row.measurement === null ? null : (JSON.parse(String(row.measurement)) as Measurement),
});
const parseInAlbum: Parse<AlbumMaster> = (row) => ({
  ...parse(row),
  name: String(row.name),
  addedAt: row.added_at as Date,
});

const COLUMNS = 'm.sha256, m.bytes, m.info, m.measurement';

export function findMaster(db: Db, sha256: string): Promise<MasterRecord | undefined> {
  return db.maybeOne(parse, `SELECT ${COLUMNS} FROM masters m WHERE m.sha256 = ?`, [sha256]);
}

export function listMasters(db: Db): Promise<MasterRecord[]> {
  return db.many(parse, `SELECT ${COLUMNS} FROM masters m`);
}

export function mastersOfAlbum(db: Db, albumId: string): Promise<AlbumMaster[]> {
  return db.many(
    parseInAlbum,
    `SELECT ${COLUMNS}, a.name, a.added_at FROM album_masters a JOIN masters m ON m.sha256 = a.sha256 WHERE a.album_id = ? ORDER BY a.added_at, a.name`,
    [albumId],
  );
}

/** Masters that came in under this file name, in any album, the newest first. */
export function mastersNamed(db: Db, name: string): Promise<AlbumMaster[]> {
  return db.many(
    parseInAlbum,
    `SELECT ${COLUMNS}, a.name, MAX(a.added_at) AS added_at FROM album_masters a JOIN masters m ON m.sha256 = a.sha256 WHERE a.name = ? GROUP BY m.sha256 ORDER BY added_at DESC`,
    [name],
  );
}

export async function insertMaster(db: Db, sha256: string, bytes: number, info: PcmInfo): Promise<void> {
  await db.execute(
    'INSERT IGNORE INTO masters (sha256, bytes, info, created_at) VALUES (?, ?, ?, UTC_TIMESTAMP(3))',
    [sha256, bytes, JSON.stringify(info)],
  );
}

/** Puts a master into an album; a second time only renames it there. */
export async function linkMaster(db: Db, albumId: string, sha256: string, name: string): Promise<void> {
  await db.execute(
    'INSERT INTO album_masters (album_id, sha256, name, added_at) VALUES (?, ?, ?, UTC_TIMESTAMP(3)) ON DUPLICATE KEY UPDATE name = VALUES(name)',
    [albumId, sha256, name],
  );
}

export async function copyLinks(db: Db, fromAlbum: string, toAlbum: string): Promise<void> {
  await db.execute(
    'INSERT INTO album_masters (album_id, sha256, name, added_at) SELECT ?, sha256, name, added_at FROM album_masters WHERE album_id = ?',
    [toAlbum, fromAlbum],
  );
}

export async function storeMeasurement(
  db: Db,
  sha256: string,
  measurement: Measurement,
  silhouette: Buffer,
): Promise<void> {
  await db.execute('UPDATE masters SET measurement = ?, silhouette = ? WHERE sha256 = ?', [
    JSON.stringify(measurement),
    silhouette,
    sha256,
  ]);
}

export function findSilhouette(db: Db, sha256: string): Promise<Buffer | null | undefined> {
  return db.maybeOne(
    (row) => row.silhouette as Buffer | null,
    'SELECT silhouette FROM masters WHERE sha256 = ?',
    [sha256],
  );
}

import { coding, embedded, measurement, pcmInfo } from '@oiseau/api';
import { NO_TEXT, type EmbeddedText, type PcmInfo } from '@oiseau/audio/pcm';
import type { MasterMeasurement } from '@oiseau/audio/measure';
import type { SourceCoding } from '@oiseau/host';
import type { Db, Parse } from '../db/database.js';
import { fromJsonOr, toJson } from '../db/json.js';

export interface MasterRecord {
  readonly sha256: string;
  /** Size of the file that was brought in. */
  readonly bytes: number;
  /** The words that are read: those of the file, or of its decoded audio. */
  readonly info: PcmInfo;
  /** null for plain PCM. */
  readonly coding: SourceCoding | null;
  readonly embedded: Embedded;
  /** SHA-256 of the decoded audio; null for plain PCM, and where it was decoded before the sum was kept. */
  readonly decodedSha256: string | null;
  /** null until a worker has measured it. */
  readonly measurement: MasterMeasurement | null;
  /** What is known of it can't be read any more; it is to be brought in again. */
  readonly damaged: boolean;
}

/** What lay in the file beside its audio. */
export interface Embedded extends EmbeddedText {
  /** SHA-256 of a picture. */
  readonly cover: string | null;
}

/** A master as one album knows it: under the name of the file that was brought in. */
export interface AlbumMaster extends MasterRecord {
  readonly name: string;
  readonly addedAt: Date;
  /** SHA-256 of the master of which this one is a newer version. */
  readonly replaces: string | null;
  /** It was imported as a track, and its use is not decided yet. */
  readonly awaits: boolean;
}

/** Characters of a file's name that are kept. */
const MOST_NAME = 500;

/** What stands for a header that can't be read: silence of no length. The file is to be brought in again. */
const NO_INFO: PcmInfo = {
  ...{ container: 'RIFF', rate: 44_100, channels: 2, format: 'int16', order: 'little' },
  ...{ validBits: 16, length: 0, dataOffset: 44 },
};

const parse: Parse<MasterRecord> = (row) => {
  const info = fromJsonOr(pcmInfo, row.info, 'unreadable');
  const coded = fromJsonOr(coding, row.coding, 'unreadable');
  return {
    sha256: String(row.sha256),
    bytes: Number(row.bytes),
    info: info === null || info === 'unreadable' ? NO_INFO : info,
    coding: coded === 'unreadable' ? { codec: 'unknown', lossy: false, bitrate: null } : coded,
    embedded: fromJsonOr(embedded, row.embedded, null) ?? { ...NO_TEXT, cover: null },
    decodedSha256: row.decoded_sha256 === null ? null : String(row.decoded_sha256),
    measurement: fromJsonOr(measurement, row.measurement, null),
    damaged: info === null || info === 'unreadable' || coded === 'unreadable',
  };
};
const parseInAlbum: Parse<AlbumMaster> = (row) => ({
  ...parse(row),
  name: String(row.name),
  addedAt: row.added_at as Date,
  replaces: row.replaces === null ? null : String(row.replaces),
  awaits: Boolean(row.awaits),
});

const COLUMNS = 'm.sha256, m.bytes, m.info, m.coding, m.embedded, m.decoded_sha256, m.measurement';

export function findMaster(db: Db, sha256: string): Promise<MasterRecord | undefined> {
  return db.maybeOne(parse, `SELECT ${COLUMNS} FROM masters m WHERE m.sha256 = ?`, [sha256]);
}

export function mastersOfAlbum(db: Db, albumId: string): Promise<AlbumMaster[]> {
  return db.many(
    parseInAlbum,
    `SELECT ${COLUMNS}, a.name, a.added_at, a.replaces, a.awaits FROM album_masters a JOIN masters m ON m.sha256 = a.sha256 WHERE a.album_id = ? ORDER BY a.added_at, a.name`,
    [albumId],
  );
}

/** SHA-256 of an album's masters. */
export const masterKeysOfAlbum = (db: Db, albumId: string): Promise<string[]> =>
  db.many((row) => String(row.sha256), 'SELECT sha256 FROM album_masters WHERE album_id = ?', [albumId]);

/**
 * Masters by their SHA-256, whether the album has them still or a revision of it alone does; those that it has no more are called by no
 * name.
 */
export function mastersByKey(db: Db, albumId: string, keys: Iterable<string>): Promise<AlbumMaster[]> {
  const wanted = [...new Set(keys)];
  if (wanted.length === 0) return Promise.resolve([]);
  return db.many(
    parseInAlbum,
    `SELECT ${COLUMNS}, COALESCE(a.name, '') AS name, COALESCE(a.added_at, m.created_at) AS added_at, a.replaces, a.awaits
     FROM masters m LEFT JOIN album_masters a ON a.sha256 = m.sha256 AND a.album_id = ?
     WHERE m.sha256 IN (${wanted.map(() => '?').join(', ')})`,
    [albumId, ...wanted],
  );
}

/** Masters that came in under this file name, in any album, the newest first. */
export function mastersNamed(db: Db, name: string): Promise<AlbumMaster[]> {
  return db.many(
    parseInAlbum,
    `SELECT ${COLUMNS}, a.name, NULL AS replaces, FALSE AS awaits, MAX(a.added_at) AS added_at FROM album_masters a JOIN masters m ON m.sha256 = a.sha256 WHERE a.name = ? GROUP BY m.sha256 ORDER BY added_at DESC`,
    [name],
  );
}

/** Notes a master that has come in. One that is known keeps what was measured of it, unless what is known of it can't be read. */
export async function insertMaster(
  db: Db,
  {
    sha256,
    bytes,
    info,
    coding: coded,
    embedded: text,
    decodedSha256,
  }: Omit<MasterRecord, 'measurement' | 'damaged'>,
): Promise<void> {
  await db.execute(
    `INSERT INTO masters (sha256, bytes, info, coding, embedded, decoded_sha256, created_at) VALUES (?, ?, ?, ?, ?, ?, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE bytes = VALUES(bytes), info = VALUES(info), coding = VALUES(coding), embedded = VALUES(embedded), decoded_sha256 = VALUES(decoded_sha256), unused_since = NULL`,
    [
      sha256,
      bytes,
      toJson(pcmInfo, info),
      coded && toJson(coding, coded),
      toJson(embedded, text),
      decodedSha256,
    ],
  );
}

/** Notes what a master was decoded to. */
export async function noteDecoded(
  db: Db,
  sha256: string,
  info: PcmInfo,
  decodedSha256: string,
): Promise<void> {
  await db.execute('UPDATE masters SET info = ?, decoded_sha256 = ? WHERE sha256 = ?', [
    toJson(pcmInfo, info),
    decodedSha256,
    sha256,
  ]);
}

/**
 * Puts a master into an album; one that is there stays as it is.
 * @param replaces the master of which it is a newer version
 * @param awaits its use is not decided yet
 * @returns whether it was there
 */
export async function linkMaster(
  db: Db,
  albumId: string,
  sha256: string,
  name: string,
  { replaces = null, awaits = false }: { readonly replaces?: string | null; readonly awaits?: boolean } = {},
): Promise<boolean> {
  const known = await db.one(
    (row) => Number(row.known) > 0,
    'SELECT EXISTS(SELECT 1 FROM album_masters WHERE album_id = ? AND sha256 = ?) AS known',
    [albumId, sha256],
  );
  await db.execute(
    'INSERT INTO album_masters (album_id, sha256, name, replaces, awaits, added_at) VALUES (?, ?, ?, ?, ?, UTC_TIMESTAMP(3)) ON DUPLICATE KEY UPDATE sha256 = VALUES(sha256)',
    [albumId, sha256, name.slice(0, MOST_NAME), replaces, awaits],
  );
  return known;
}

/** Notes what has become of a master that came in. @param replaces the master of which it is a newer version; null: of none that we knew of */
export async function settleMaster(
  db: Db,
  albumId: string,
  sha256: string,
  replaces: string | null,
): Promise<void> {
  await db.execute(
    'UPDATE album_masters SET awaits = FALSE, replaces = COALESCE(?, replaces) WHERE album_id = ? AND sha256 = ?',
    [replaces, albumId, sha256],
  );
}

/** Takes a master out of an album; its file stays, since other albums and deliveries may use it. */
export async function unlinkMaster(db: Db, albumId: string, sha256: string): Promise<boolean> {
  const { changed } = await db.execute('DELETE FROM album_masters WHERE album_id = ? AND sha256 = ?', [
    albumId,
    sha256,
  ]);
  return changed === 1;
}

export async function copyLinks(db: Db, fromAlbum: string, toAlbum: string): Promise<void> {
  await db.execute(
    'INSERT INTO album_masters (album_id, sha256, name, replaces, awaits, added_at) SELECT ?, sha256, name, replaces, awaits, added_at FROM album_masters WHERE album_id = ?',
    [toAlbum, fromAlbum],
  );
}

export async function storeMeasurement(
  db: Db,
  sha256: string,
  measured: MasterMeasurement,
  silhouette: Buffer,
  powers: Buffer,
): Promise<void> {
  await db.execute('UPDATE masters SET measurement = ?, silhouette = ?, powers = ? WHERE sha256 = ?', [
    toJson(measurement, measured),
    silhouette,
    powers,
    sha256,
  ]);
}

/** Mean power of each 100 ms as little-endian 32-bit floats. */
export function findPowers(db: Db, sha256: string): Promise<Buffer | null | undefined> {
  return db.maybeOne((row) => row.powers as Buffer | null, 'SELECT powers FROM masters WHERE sha256 = ?', [
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

import { made } from '@oiseau/api';
import { sameContent } from '@oiseau/album/edits';
import type { Album } from '@oiseau/album/model';
import type { Made } from '@oiseau/render';
import { fromJsonOr, toJson } from '../db/json.js';
import type { Db } from '../db/database.js';
import { documentText, parseDocument, readableDocument } from './album-repository.js';

/** A numbered state of an album, without what it holds. */
export interface Revision {
  readonly number: number;
  readonly createdAt: Date;
  /** What was at work when it was numbered; null where that was not noted. */
  readonly made: Made | null;
}

/** The newest first. */
export function revisionsOfAlbum(db: Db, albumId: string): Promise<Revision[]> {
  return db.many(
    (row) => ({
      number: Number(row.number),
      createdAt: row.created_at as Date,
      made: fromJsonOr(made, row.made, null),
    }),
    'SELECT number, created_at, made FROM revisions WHERE album_id = ? ORDER BY number DESC',
    [albumId],
  );
}

export function findRevision(db: Db, albumId: string, number: number): Promise<Album | undefined> {
  return db.maybeOne(
    (row) => parseDocument(String(row.document)),
    'SELECT document FROM revisions WHERE album_id = ? AND number = ?',
    [albumId, number],
  );
}

/** The day on which a revision was numbered, YYYY-MM-DD in UTC; empty for one that is not there. */
export async function dayOfRevision(db: Db, albumId: string, number: number): Promise<string> {
  const day = await db.maybeOne(
    (row) => dayOf(row.created_at as Date),
    'SELECT created_at FROM revisions WHERE album_id = ? AND number = ?',
    [albumId, number],
  );
  return day ?? '';
}
const dayOf = (date: Date): string => date.toISOString().slice(0, 10);

/** The day of the revision that has this state of the album; today's where it has none yet. */
export async function dayOfState(db: Db, albumId: string, album: Album): Promise<string> {
  const newest = await db.maybeOne(
    (row) => ({ day: dayOf(row.created_at as Date), album: readableDocument(String(row.document)) }),
    'SELECT created_at, document FROM revisions WHERE album_id = ? ORDER BY number DESC LIMIT 1',
    [albumId],
  );
  return newest?.album && sameContent(newest.album, album) ? newest.day : dayOf(new Date());
}

/**
 * The number of the revision that has this state of the album: the newest one's when nothing has changed since, else a
 * new one. To be called inside a transaction that has locked the album's row.
 */
export async function numberRevision(db: Db, albumId: string, album: Album, versions: Made): Promise<number> {
  const newest = await db.maybeOne(
    (row) => ({ number: Number(row.number), album: readableDocument(String(row.document)) }),
    'SELECT number, document FROM revisions WHERE album_id = ? ORDER BY number DESC LIMIT 1',
    [albumId],
  );
  // What an older version has kept may be written otherwise and say the same.
  if (newest?.album && sameContent(newest.album, album)) return newest.number;
  const number = (newest?.number ?? 0) + 1;
  await db.execute(
    'INSERT INTO revisions (album_id, number, document, made, created_at) VALUES (?, ?, ?, ?, UTC_TIMESTAMP(3))',
    [albumId, number, documentText(album), toJson(made, versions)],
  );
  return number;
}

/** The newest revision of an album that plays a master; undefined when none does. */
export function revisionWith(db: Db, albumId: string, sha256: string): Promise<number | undefined> {
  return db.maybeOne(
    (row) => Number(row.number),
    `SELECT number FROM revisions WHERE album_id = ? AND JSON_CONTAINS(JSON_EXTRACT(document, '$**.master'), JSON_QUOTE(?)) ORDER BY number DESC LIMIT 1`,
    [albumId, sha256],
  );
}

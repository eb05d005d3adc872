import {
  albumDocument,
  deliverableDocument,
  readDeliverableDocument,
  sameValue,
  type Album,
  type Deliverable,
  type Proof,
} from '@oiseau/core';
import { parseDocument } from '../albums/album-repository.js';
import type { Db, Parse } from '../db/database.js';
import { jobProgress, jobState, proof, type JobProgress, type JobState } from '@oiseau/api';
import { fromJson } from '../db/json.js';

/** What was rendered, or is to be, from one revision of an album. */
export interface Delivery {
  readonly id: string;
  readonly albumId: string;
  readonly revision: number;
  readonly deliverable: Deliverable;
  readonly createdAt: Date;
  /** Name of the person who asked for it; may be empty. */
  readonly askedBy: string;
  /** When its files were deleted; the record stays. */
  readonly clearedAt: Date | null;
  readonly jobId: number;
  readonly state: JobState;
  readonly progress: JobProgress | null;
  readonly message: string | null;
  /** null until it is rendered. */
  readonly proof: Proof | null;
}

const parse: Parse<Delivery> = (row) => ({
  id: String(row.id),
  albumId: String(row.album_id),
  revision: Number(row.revision),
  deliverable: readDeliverableDocument(JSON.parse(String(row.deliverable))),
  createdAt: row.created_at as Date,
  askedBy: String(row.asked_by),
  clearedAt: row.cleared_at as Date | null,
  jobId: Number(row.job_id),
  state: jobState.parse(row.state),
  progress: fromJson(jobProgress, row.progress),
  message: row.message === null ? null : String(row.message),
  proof: fromJson(proof, row.proof),
});

const SELECT =
  'SELECT d.id, d.album_id, d.revision, d.deliverable, d.created_at, d.asked_by, d.cleared_at, d.job_id, d.proof, j.state, j.progress, j.message FROM deliveries d JOIN jobs j ON j.id = d.job_id';

/** The newest first; those of one moment in the order in which they were queued. */
export function deliveriesOfAlbum(db: Db, albumId: string): Promise<Delivery[]> {
  return db.many(parse, `${SELECT} WHERE d.album_id = ? ORDER BY d.revision DESC, d.job_id DESC`, [albumId]);
}

export function findDelivery(db: Db, id: string): Promise<Delivery | undefined> {
  return db.maybeOne(parse, `${SELECT} WHERE d.id = ?`, [id]);
}

export async function insertDelivery(
  db: Db,
  delivery: Pick<Delivery, 'id' | 'albumId' | 'revision' | 'deliverable' | 'askedBy' | 'jobId'>,
): Promise<void> {
  await db.execute(
    'INSERT INTO deliveries (id, album_id, revision, deliverable, asked_by, job_id, created_at) VALUES (?, ?, ?, ?, ?, ?, UTC_TIMESTAMP(3))',
    [
      delivery.id,
      delivery.albumId,
      delivery.revision,
      JSON.stringify(deliverableDocument(delivery.deliverable)),
      delivery.askedBy,
      delivery.jobId,
    ],
  );
}

export async function storeProof(db: Db, id: string, proof: Proof): Promise<void> {
  await db.execute('UPDATE deliveries SET proof = ? WHERE id = ?', [JSON.stringify(proof), id]);
}

/** A numbered state of an album, without what it holds. */
export interface Revision {
  readonly number: number;
  readonly createdAt: Date;
}

/** The newest first. */
export function revisionsOfAlbum(db: Db, albumId: string): Promise<Revision[]> {
  return db.many(
    (row) => ({ number: Number(row.number), createdAt: row.created_at as Date }),
    'SELECT number, created_at FROM revisions WHERE album_id = ? ORDER BY number DESC',
    [albumId],
  );
}

/** Its files are gone; what is known of them stays. */
export async function markCleared(db: Db, id: string): Promise<void> {
  await db.execute('UPDATE deliveries SET cleared_at = UTC_TIMESTAMP(3) WHERE id = ?', [id]);
}

/** It is to be rendered once more: its files are on their way. */
export async function askAgain(db: Db, id: string, jobId: number): Promise<void> {
  await db.execute('UPDATE deliveries SET job_id = ?, cleared_at = NULL WHERE id = ?', [jobId, id]);
}

export function findRevision(db: Db, albumId: string, number: number): Promise<Album | undefined> {
  return db.maybeOne(
    (row) => parseDocument(String(row.document)),
    'SELECT document FROM revisions WHERE album_id = ? AND number = ?',
    [albumId, number],
  );
}

/**
 * The number of the revision that has this state of the album: the newest one's when nothing has changed since, else a
 * new one. To be called inside a transaction that has locked the album's row.
 */
export async function numberRevision(db: Db, albumId: string, album: Album): Promise<number> {
  const newest = await db.maybeOne(
    (row) => ({ number: Number(row.number), album: parseDocument(String(row.document)) }),
    'SELECT number, document FROM revisions WHERE album_id = ? ORDER BY number DESC LIMIT 1',
    [albumId],
  );
  // What an older version has kept may be written otherwise and say the same.
  if (newest && sameValue(newest.album, album)) return newest.number;
  const number = (newest?.number ?? 0) + 1;
  await db.execute(
    'INSERT INTO revisions (album_id, number, document, created_at) VALUES (?, ?, ?, UTC_TIMESTAMP(3))',
    [albumId, number, JSON.stringify(albumDocument(album))],
  );
  return number;
}

/** The newest revision of an album that plays a master; undefined when none does. */
export function revisionWith(db: Db, albumId: string, sha256: string): Promise<number | undefined> {
  return db.maybeOne(
    (row) => Number(row.number),
    'SELECT number FROM revisions WHERE album_id = ? AND LOCATE(?, document) > 0 ORDER BY number DESC LIMIT 1',
    [albumId, sha256],
  );
}

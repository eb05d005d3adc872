import { msg } from '@oiseau/messages';
import { readSentence, storedSentence, type Sentence } from '../jobs/stored-sentence.js';
import { deliverableDocument, readDeliverableDocument } from '@oiseau/album/file';
import { deliverableSchema, type Deliverable } from '@oiseau/album/model';
import { sameValue } from '@oiseau/album/edits';
import type { Proof, ProofComparison } from '@oiseau/render';
import type { Visitor } from '../access/visitor.js';
import { storedText, openedTo } from '../albums/shelf.js';
import type { Database, Db, Parse } from '../db/database.js';
import { comparison, jobProgress, jobState, proof, type JobProgress, type JobState } from '@oiseau/api';
import type { Claim } from '../jobs/job-repository.js';
import { fromJsonOr, toJson } from '../db/json.js';

/** What was rendered, or is to be, from one revision of an album. */
export interface Delivery extends Sentence {
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
  /** null until it is rendered. */
  readonly proof: Proof | null;
  /** There is one that was not asked for. */
  readonly proofKnown: boolean;
  /** Its proof laid against that of an earlier render of the same revision and settings; null where there was none. */
  readonly compared: ProofComparison | null;
  /** Folder of the attempt that made its files, below its own; empty for those from before there were such. */
  readonly attempt: string;
}

/** What stands for settings that can't be read: the record and its files stay, and are called by this name. */
const UNREADABLE = deliverableSchema.parse({ name: 'unreadable', kind: 'tracks' });

const PROOF_DAMAGED = readSentence(storedSentence(msg('Its proof record is damaged.')));

const parse: Parse<Delivery> = (row) => {
  const made = fromJsonOr(proof, row.proof, 'unreadable');
  const why = made === 'unreadable' ? PROOF_DAMAGED : readSentence(row.message);
  return {
    id: String(row.id),
    albumId: String(row.album_id),
    revision: Number(row.revision),
    deliverable: readDeliverable(String(row.deliverable)),
    createdAt: row.created_at as Date,
    askedBy: String(row.asked_by),
    clearedAt: row.cleared_at as Date | null,
    jobId: Number(row.job_id),
    state: jobState.parse(row.state),
    progress: fromJsonOr(jobProgress, row.progress, null),
    ...why,
    proof: made === 'unreadable' ? null : made,
    proofKnown: Number(row.proof_known) === 1,
    compared: fromJsonOr(comparison, row.compared, null),
    attempt: String(row.attempt),
  };
};

function readDeliverable(text: string): Deliverable {
  try {
    return readDeliverableDocument(JSON.parse(text));
  } catch {
    return UNREADABLE;
  }
}

const columns = (proofs: string): string =>
  `SELECT d.id, d.album_id, d.revision, d.deliverable, d.created_at, d.asked_by, d.cleared_at, d.job_id, ${proofs}, d.compared, d.attempt, j.state, j.progress, j.message FROM deliveries d JOIN jobs j ON j.id = d.job_id`;
const SELECT = columns('d.proof, 0 AS proof_known');
const KNOWN = "(d.attempt <> '' AND d.proof IS NOT NULL AND FIND_IN_SET(d.attempt, ?) > 0)";

/**
 * The newest first; those of one moment in the order in which they were queued.
 * @param known attempts whose proofs are left out, with commas between them
 */
export function deliveriesOfAlbum(db: Db, albumId: string, known = ''): Promise<Delivery[]> {
  const proofs = `IF(${KNOWN}, NULL, d.proof) AS proof, ${KNOWN} AS proof_known`;
  return db.many(parse, `${columns(proofs)} WHERE d.album_id = ? ORDER BY d.revision DESC, d.job_id DESC`, [
    known,
    known,
    albumId,
  ]);
}

/** A render that waits or is at work, and what its album is called. */
export type QueuedRender = Pick<
  Delivery,
  'id' | 'albumId' | 'revision' | 'deliverable' | 'askedBy' | 'state' | 'progress'
> & { readonly title: string };

/** Renders of all albums that a key opens, those at work first, then as they will be done. */
export async function renderQueue(db: Database, visitor: Visitor): Promise<QueuedRender[]> {
  const { where, values } = openedTo(visitor);
  return db.many(
    (row) => ({ ...parse(row), title: String(row.title) }),
    `SELECT d.id, d.album_id, d.revision, d.deliverable, d.created_at, d.asked_by, d.cleared_at, d.job_id, NULL AS proof, 0 AS proof_known,
       NULL AS compared, d.attempt, j.state, j.progress, j.message, ${storedText('title')}
     FROM deliveries d JOIN jobs j ON j.id = d.job_id JOIN albums a ON a.id = d.album_id
     WHERE j.state IN ('queued', 'running') AND a.deleted_at IS NULL${where}
     ORDER BY j.state = 'queued', j.priority, j.turn, j.id`,
    values,
  );
}

export function findDelivery(db: Db, id: string): Promise<Delivery | undefined> {
  return db.maybeOne(parse, `${SELECT} WHERE d.id = ?`, [id]);
}

export async function insertDelivery(
  db: Db,
  delivery: Pick<Delivery, 'id' | 'albumId' | 'revision' | 'deliverable' | 'askedBy' | 'jobId'>,
  keyId: string,
): Promise<void> {
  await db.execute(
    'INSERT INTO deliveries (id, album_id, revision, deliverable, asked_by, key_id, job_id, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, UTC_TIMESTAMP(3))',
    [
      delivery.id,
      delivery.albumId,
      delivery.revision,
      JSON.stringify(deliverableDocument(delivery.deliverable)),
      delivery.askedBy,
      keyId,
      delivery.jobId,
    ],
  );
}

/** Those that were rendered and whose files were not cleared. */
export const deliveryIdsWithFiles = (db: Db): Promise<string[]> =>
  db.many(
    (row) => String(row.id),
    'SELECT id FROM deliveries WHERE proof IS NOT NULL AND cleared_at IS NULL ORDER BY id',
  );

/** The proof of the last render before this one that was of the same revision by the same settings. */
export async function earlierProof(
  db: Db,
  { albumId, revision, deliverable, jobId }: Delivery,
): Promise<Proof | null> {
  const earlier = await db.many(
    parse,
    `${SELECT} WHERE d.album_id = ? AND d.revision = ? AND d.job_id < ? AND d.proof IS NOT NULL ORDER BY d.job_id DESC`,
    [albumId, revision, jobId],
  );
  return earlier.find((other) => sameValue(other.deliverable, deliverable))?.proof ?? null;
}

/** Renders that a key has asked for and that wait or are at work. */
export const underWayOf = (db: Db, keyId: string): Promise<number> =>
  db.one(
    (row) => Number(row.count),
    "SELECT COUNT(*) AS count FROM deliveries d JOIN jobs j ON j.id = d.job_id WHERE d.key_id = ? AND j.state IN ('queued', 'running')",
    [keyId],
  );

/** Notes what an attempt has made, and where. @returns false where the job is another's by now: then nothing is changed */
export async function storeProof(
  db: Db,
  id: string,
  { id: jobId, claim }: Claim,
  attempt: string,
  made: Proof,
  compared: ProofComparison | null,
): Promise<boolean> {
  const { changed } = await db.execute(
    `UPDATE deliveries d JOIN jobs j ON j.id = d.job_id SET d.proof = ?, d.compared = ?, d.attempt = ?
     WHERE d.id = ? AND j.id = ? AND j.claim = ? AND j.state = 'running'`,
    [toJson(proof, made), compared && toJson(comparison, compared), attempt, id, jobId, claim],
  );
  return changed > 0;
}

/** Its files are gone; what is known of them stays. */
export async function markCleared(db: Db, id: string): Promise<void> {
  await db.execute('UPDATE deliveries SET cleared_at = UTC_TIMESTAMP(3) WHERE id = ?', [id]);
}

/** It is to be rendered once more: its files are on their way. */
export async function askAgain(db: Db, id: string, jobId: number): Promise<void> {
  await db.execute('UPDATE deliveries SET job_id = ?, cleared_at = NULL WHERE id = ?', [jobId, id]);
}

/** Makes everyone else who locks the delivery wait until the transaction has ended. */
export async function lockDelivery(db: Db, id: string): Promise<void> {
  await db.maybeOne((row) => row.id, 'SELECT id FROM deliveries WHERE id = ? FOR UPDATE', [id]);
}

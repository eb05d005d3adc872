import { readSentence } from '../jobs/stored-sentence.js';
import {
  jobProgress,
  jobState,
  receiverKind,
  statusOf,
  type HandoverFacts,
  writing,
  told,
  type HandoverRecord,
  type Told,
} from '@oiseau/api';
import { readDeliverableDocument } from '@oiseau/album/file';
import type { Db, Parse } from '../db/database.js';
import { fromJsonOr, toJson } from '../db/json.js';

/** Something that is handed over, or was. */
export interface Handover extends Omit<HandoverRecord, 'createdAt' | 'sentAt'> {
  readonly albumId: string;
  readonly jobId: number;
  /** What the receiver calls it; null while it does not know of it. */
  readonly remote: string | null;
  readonly createdAt: Date;
  readonly sentAt: Date | null;
  /** When the receiver was asked last. */
  readonly askedAt: Date | null;
}

const parse: Parse<Handover> = (row) => {
  const facts = {
    state: jobState.parse(row.state),
    paused: Boolean(row.paused),
    progress: fromJsonOr(jobProgress, row.progress, null),
    told: fromJsonOr(told, row.told, null),
  };
  return { ...facts, status: statusOf(facts), ...stored(row) };
};

const stored = (row: Parameters<Parse<Handover>>[0]): Omit<Handover, keyof HandoverFacts | 'status'> => ({
  id: String(row.id),
  albumId: String(row.album_id),
  deliveryId: String(row.delivery_id),
  deliverable: nameOf(String(row.deliverable)),
  revision: Number(row.revision),
  receiver: {
    id: String(row.receiver_id),
    name: String(row.receiver_name),
    kind: receiverKind.parse(row.kind),
  },
  writing: fromJsonOr(writing.nullable(), row.writing, null),
  createdAt: row.created_at as Date,
  askedBy: String(row.asked_by),
  jobId: Number(row.job_id),
  ...readSentence(row.message),
  trouble: row.trouble === null ? null : String(row.trouble),
  remote: row.remote === null ? null : String(row.remote),
  sentAt: row.sent_at as Date | null,
  askedAt: row.looked_at as Date | null,
  bytes: Number(row.bytes),
  sums: row.sums === null ? null : String(row.sums),
});

function nameOf(document: string): string {
  try {
    return readDeliverableDocument(JSON.parse(document)).name;
  } catch {
    return 'unreadable';
  }
}

const SELECT = `SELECT h.id, d.album_id, h.delivery_id, d.deliverable, d.revision, h.receiver_id, h.receiver_name, h.kind, h.writing, h.created_at, h.asked_by,
  h.job_id, j.state, h.paused, j.progress, j.message, h.trouble, h.told, h.remote, h.sent_at, h.looked_at, h.bytes, h.sums
  FROM handovers h JOIN deliveries d ON d.id = h.delivery_id JOIN jobs j ON j.id = h.job_id`;

export const handoversOfAlbum = (db: Db, albumId: string): Promise<Handover[]> =>
  db.many(parse, `${SELECT} WHERE d.album_id = ? ORDER BY h.created_at DESC, h.job_id DESC`, [albumId]);

/**
 * Ids of sent hand-overs whose recipient may still have news and was not asked lately: within 2 s at first, after an hour within a minute,
 * never later than ten minutes.
 */
export const handoversDue = (db: Db): Promise<string[]> =>
  db.many(
    (row) => String(row.id),
    `SELECT h.id FROM handovers h JOIN jobs j ON j.id = h.job_id
     WHERE j.state = 'done' AND JSON_EXTRACT(h.told, '$.final') = 'false' AND (h.looked_at IS NULL OR
       TIMESTAMPDIFF(MICROSECOND, h.looked_at, UTC_TIMESTAMP(3)) >
       1000000 * LEAST(600, GREATEST(2, TIMESTAMPDIFF(SECOND, COALESCE(h.sent_at, h.created_at), UTC_TIMESTAMP(3)) / 60)))`,
  );

export const findHandover = (db: Db, id: string): Promise<Handover | undefined> =>
  db.maybeOne(parse, `${SELECT} WHERE h.id = ?`, [id]);

export async function insertHandover(
  db: Db,
  given: Pick<Handover, 'id' | 'deliveryId' | 'receiver' | 'writing' | 'askedBy' | 'jobId'>,
): Promise<void> {
  const { id, deliveryId, receiver, askedBy, jobId } = given;
  await db.execute(
    `INSERT INTO handovers (id, delivery_id, receiver_id, receiver_name, kind, writing, asked_by, job_id, created_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, UTC_TIMESTAMP(3))`,
    [
      ...[id, deliveryId, receiver.id, receiver.name, receiver.kind],
      ...[given.writing && JSON.stringify(given.writing), askedBy, jobId],
    ],
  );
}

/** It is sent on by another job. */
export async function goOn(db: Db, id: string, jobId: number): Promise<void> {
  await db.execute('UPDATE handovers SET job_id = ?, paused = FALSE, trouble = NULL WHERE id = ?', [
    jobId,
    id,
  ]);
}

export async function notePaused(db: Db, id: string): Promise<void> {
  await db.execute('UPDATE handovers SET paused = TRUE WHERE id = ?', [id]);
}

/** What the receiver calls it, and what is sent. */
export async function noteAnnounced(
  db: Db,
  id: string,
  { remote, bytes, sums }: { readonly remote: string; readonly bytes: number; readonly sums: string },
): Promise<void> {
  await db.execute('UPDATE handovers SET remote = ?, bytes = ?, sums = ? WHERE id = ?', [
    remote,
    bytes,
    sums,
    id,
  ]);
}

/** Everything has arrived; said once. */
export async function noteSent(db: Db, id: string): Promise<void> {
  await db.execute('UPDATE handovers SET sent_at = COALESCE(sent_at, UTC_TIMESTAMP(3)) WHERE id = ?', [id]);
}

/** What keeps it from going on; null: nothing. */
export async function noteTrouble(db: Db, id: string, words: string | null): Promise<void> {
  await db.execute('UPDATE handovers SET trouble = ? WHERE id = ?', [words && words.slice(0, 500), id]);
}

export async function noteTold(db: Db, id: string, said: Told): Promise<void> {
  await db.execute(
    'UPDATE handovers SET told = ?, looked_at = UTC_TIMESTAMP(3), trouble = NULL WHERE id = ?',
    [toJson(told, said), id],
  );
}

/** The receiver was asked, whatever came of it. */
export async function noteLooked(db: Db, id: string): Promise<void> {
  await db.execute('UPDATE handovers SET looked_at = UTC_TIMESTAMP(3) WHERE id = ?', [id]);
}

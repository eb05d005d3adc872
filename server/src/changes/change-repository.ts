import { CHANGES_KEPT_MS, type ChangeTopic } from '@oiseau/api';
import type { Db, Parse } from '../db/database.js';
import type { JobKind } from '../jobs/job-kinds.js';

/** A row that the database's triggers have written (migration 020). */
export interface StoredChange {
  readonly id: number;
  readonly what: string;
  readonly subject: string;
  /** Of an album. */
  readonly version: number | null;
  /** It is so old that nothing with a lower id will become visible any more. */
  readonly settled: boolean;
}

/** What the rows name: the topic that readers are told, and SQL for the albums of its subjects; null: of no album. */
interface Source {
  readonly topic: ChangeTopic;
  readonly albums: string | null;
}

const ITSELF = 'SELECT id AS subject, id AS album_id FROM albums WHERE id';
const OF_DELIVERY = 'SELECT id AS subject, album_id FROM deliveries WHERE id';
const OF_HANDOVER =
  'SELECT h.id AS subject, d.album_id FROM handovers h JOIN deliveries d ON d.id = h.delivery_id WHERE h.id';
const OF_MASTER = 'SELECT sha256 AS subject, album_id FROM album_masters WHERE sha256';

const OF_JOB = {
  measure: { topic: 'masters', albums: OF_MASTER },
  sound: { topic: 'sounds', albums: 'SELECT id AS subject, album_id FROM sounds WHERE id' },
  render: { topic: 'deliveries', albums: OF_DELIVERY },
  intake: { topic: 'imports', albums: 'SELECT id AS subject, album_id FROM intakes WHERE id' },
  follow: { topic: 'handovers', albums: OF_HANDOVER },
  handover: { topic: 'handovers', albums: OF_HANDOVER },
  verify: { topic: 'storage', albums: null },
} as const satisfies Readonly<Record<JobKind, Source>>;

const SOURCES: ReadonlyMap<string, Source> = new Map<string, Source>([
  ['album', { topic: 'album', albums: ITSELF }],
  ['album masters', { topic: 'masters', albums: ITSELF }],
  ['album deliveries', { topic: 'deliveries', albums: ITSELF }],
  ['master', { topic: 'masters', albums: OF_MASTER }],
  ['notes', { topic: 'notes', albums: OF_DELIVERY }],
  ['answers', { topic: 'answers', albums: OF_DELIVERY }],
  ['invitations', { topic: 'invitations', albums: OF_DELIVERY }],
  ['handovers', { topic: 'handovers', albums: OF_DELIVERY }],
  ['receiver', { topic: 'recipients', albums: null }],
  ...Object.entries(OF_JOB).map(([kind, source]): [string, Source] => [`job ${kind}`, source]),
]);

/** The source of a row; undefined for one that a later version has written. */
export const sourceOf = (what: string): Source | undefined => SOURCES.get(what);

/** How long a transaction may take between writing a row and its end, s: rows become visible in another order than that of their ids. */
const SETTLED_S = 10;

const parse: Parse<StoredChange> = (row) => ({
  id: Number(row.id),
  what: String(row.what),
  subject: String(row.subject),
  version: row.version === null ? null : Number(row.version),
  settled: Number(row.settled) === 1,
});

const COLUMNS = `id, what, subject, version, at < UTC_TIMESTAMP(3) - INTERVAL ${SETTLED_S} SECOND AS settled`;

/** Rows behind `id`, in order, `most` of them. */
export const changesAfter = (db: Db, id: number, most: number): Promise<StoredChange[]> =>
  db.many(parse, `SELECT ${COLUMNS} FROM changes WHERE id > ? ORDER BY id LIMIT ${most}`, [id]);

/** The highest id so far; 0 where there is none. */
export const lastChange = (db: Db): Promise<number> =>
  db.one((row) => Number(row.last), 'SELECT COALESCE(MAX(id), 0) AS last FROM changes');

/** The id from which a reader goes on that knows the changes up to `id`: some before it may have become visible later. null where rows are missing since. */
export async function resumedFrom(db: Db, id: number): Promise<number | null> {
  if (id === 0) return null;
  const row = await db.maybeOne(
    ({ from }) => Number(from),
    `SELECT COALESCE((SELECT MAX(e.id) FROM changes e WHERE e.at < c.at - INTERVAL ${SETTLED_S} SECOND), 0) AS \`from\`
      FROM changes c WHERE c.id = ?`,
    [id],
  );
  return row ?? null;
}

/** The id behind which all changes of the last `ms` stand. */
export const idBefore = (db: Db, ms: number): Promise<number> =>
  db.one(
    (row) => Number(row.last),
    'SELECT COALESCE(MAX(id), 0) AS last FROM changes WHERE at < UTC_TIMESTAMP(3) - INTERVAL ? MICROSECOND',
    [Math.round(ms * 1000)],
  );

/** Albums by subject. */
export async function albumsOf(
  db: Db,
  sql: string,
  subjects: readonly string[],
): Promise<ReadonlyMap<string, readonly string[]>> {
  const found = new Map<string, string[]>();
  const rows = await db.many(
    (row) => [String(row.subject), String(row.album_id)] as const,
    `${sql} IN (${subjects.map(() => '?').join(', ')})`,
    subjects,
  );
  for (const [subject, album] of rows) found.set(subject, [...(found.get(subject) ?? []), album]);
  return found;
}

/** Older events can't be resumed. */
export async function forgetOldChanges(db: Db): Promise<void> {
  await db.execute(
    `DELETE FROM changes WHERE at < UTC_TIMESTAMP(3) - INTERVAL ${CHANGES_KEPT_MS / 1000} SECOND`,
  );
}

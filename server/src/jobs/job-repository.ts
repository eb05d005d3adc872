import { jobProgress, jobState, type JobProgress, type JobState } from '@oiseau/api';
import type { Database, Db, Parse } from '../db/database.js';
import { fromJsonOr, toJson } from '../db/json.js';
import { JOB_KINDS, type JobKind } from './job-kinds.js';

export type { JobProgress, JobState };

export interface Job {
  readonly id: number;
  /** One of JOB_KINDS; a later version may have queued others. */
  readonly kind: string;
  /** SHA-256 of a master, or the id of a delivery. */
  readonly subject: string;
  readonly state: JobState;
  readonly progress: JobProgress | null;
  /** Why it failed, in one sentence. */
  readonly message: string | null;
  readonly stopRequested: boolean;
}

const parse: Parse<Job> = (row) => ({
  id: Number(row.id),
  kind: String(row.kind),
  subject: String(row.subject),
  state: jobState.parse(row.state),
  progress: fromJsonOr(jobProgress, row.progress, null),
  message: row.message === null ? null : String(row.message),
  stopRequested: Boolean(row.stop_requested),
});

const COLUMNS = 'id, kind, subject, state, progress, message, stop_requested';
/** A worker that has not been heard of for so long is taken for dead. */
const DEAD_AFTER_SECONDS = 15;
/** Characters of a sentence that says why a job failed. */
const MOST_MESSAGE = 2000;
/** A job that killed its worker so often is not tried again. */
const MOST_ATTEMPTS = 3;

export async function enqueue(db: Db, kind: JobKind, subject: string): Promise<number> {
  return (
    await db.execute(
      'INSERT INTO jobs (kind, priority, subject, created_at) VALUES (?, ?, ?, UTC_TIMESTAMP(3))',
      [kind, JOB_KINDS[kind].priority, subject],
    )
  ).insertId;
}

/** Queues a job unless one for the same subject is waiting or at work. */
export async function enqueueOnce(db: Db, kind: JobKind, subject: string): Promise<void> {
  await db.execute(
    `INSERT INTO jobs (kind, priority, subject, created_at) SELECT ?, ?, ?, UTC_TIMESTAMP(3) FROM DUAL
     WHERE NOT EXISTS (SELECT 1 FROM jobs WHERE kind = ? AND subject = ? AND state IN ('queued', 'running'))`,
    [kind, JOB_KINDS[kind].priority, subject, kind, subject],
  );
}

/**
 * Takes the next job for a worker, by priority, then by turn; two workers never get the same one. Rows are taken in the order of an index, so that only the one row is locked and other workers find the next.
 */
export function claim(database: Database, worker: string): Promise<Job | undefined> {
  return database.transaction(async (db) => {
    const job = await db.maybeOne(
      parse,
      `SELECT ${COLUMNS} FROM jobs FORCE INDEX (queue_by_priority) WHERE state = 'queued' ORDER BY priority, turn, id LIMIT 1 FOR UPDATE SKIP LOCKED`,
    );
    if (!job) return undefined;
    await db.execute(
      "UPDATE jobs SET state = 'running', worker = ?, attempts = attempts + 1, heartbeat_at = UTC_TIMESTAMP(3), progress = NULL WHERE id = ?",
      [worker, job.id],
    );
    return { ...job, state: 'running' };
  });
}

/** Notes progress and that the worker lives; true when somebody asked the job to stop. */
export async function heartbeat(db: Db, id: number, progress: JobProgress | null): Promise<boolean> {
  await db.execute('UPDATE jobs SET heartbeat_at = UTC_TIMESTAMP(3), progress = ? WHERE id = ?', [
    progress && toJson(jobProgress, progress),
    id,
  ]);
  return db.one((row) => Boolean(row.stop_requested), 'SELECT stop_requested FROM jobs WHERE id = ?', [id]);
}

export async function finish(
  db: Db,
  id: number,
  state: 'done' | 'failed' | 'stopped',
  message: string | null,
): Promise<void> {
  await db.execute(
    'UPDATE jobs SET state = ?, message = ?, finished_at = UTC_TIMESTAMP(3), worker = NULL WHERE id = ?',
    [state, message && message.slice(0, MOST_MESSAGE), id],
  );
}

/** Gives a job back unfinished, as a worker does that is told to shut down; it counts as no attempt. */
export async function release(db: Db, id: number): Promise<void> {
  await db.execute(
    "UPDATE jobs SET state = 'queued', worker = NULL, progress = NULL, attempts = attempts - 1 WHERE id = ?",
    [id],
  );
}

/** Puts jobs of dead workers back into the queue, or gives them up after several tries. */
export async function recoverDead(db: Db): Promise<void> {
  const dead = `state = 'running' AND heartbeat_at < UTC_TIMESTAMP(3) - INTERVAL ${DEAD_AFTER_SECONDS} SECOND`;
  await db.execute(
    `UPDATE jobs SET state = 'failed', worker = NULL, finished_at = UTC_TIMESTAMP(3), message = 'The worker died ${MOST_ATTEMPTS} times over this; it was given up.'
     WHERE ${dead} AND attempts >= ${MOST_ATTEMPTS}`,
  );
  await db.execute(`UPDATE jobs SET state = 'queued', worker = NULL, progress = NULL WHERE ${dead}`);
}

/** Asks a job to stop: at once when it waits, at its next heartbeat when it runs. False when it had ended already. */
export async function requestStop(db: Db, id: number): Promise<boolean> {
  const { changed: waiting } = await db.execute(
    "UPDATE jobs SET state = 'stopped', finished_at = UTC_TIMESTAMP(3) WHERE id = ? AND state = 'queued'",
    [id],
  );
  const { changed: running } = await db.execute(
    "UPDATE jobs SET stop_requested = TRUE WHERE id = ? AND state = 'running'",
    [id],
  );
  return waiting + running > 0;
}

/** Puts a waiting job before all others of its kind; false when it does not wait any more. */
export async function putFirst(db: Db, id: number): Promise<boolean> {
  const { changed } = await db.execute(
    `UPDATE jobs SET turn = (SELECT least FROM (SELECT MIN(turn) - 1 AS least FROM jobs WHERE state = 'queued') AS waiting)
     WHERE id = ? AND state = 'queued'`,
    [id],
  );
  return changed > 0;
}

export function findJob(db: Db, id: number): Promise<Job | undefined> {
  return db.maybeOne(parse, `SELECT ${COLUMNS} FROM jobs WHERE id = ?`, [id]);
}

/** The newest job of a kind for a subject. */
export function newestJob(db: Db, kind: JobKind, subject: string): Promise<Job | undefined> {
  return db.maybeOne(
    parse,
    `SELECT ${COLUMNS} FROM jobs WHERE kind = ? AND subject = ? ORDER BY id DESC LIMIT 1`,
    [kind, subject],
  );
}

/** Says that the worker lives, without news. */
export async function keepAlive(db: Db, id: number): Promise<void> {
  await db.execute('UPDATE jobs SET heartbeat_at = UTC_TIMESTAMP(3) WHERE id = ?', [id]);
}

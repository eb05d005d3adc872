import { msg, type Message } from '@oiseau/messages';
import { jobProgress, jobState, type JobProgress, type JobState } from '@oiseau/api';
import type { Database, Db, Parse } from '../db/database.js';
import { againWhereLocked } from '../db/locked.js';
import { fromJsonOr, toJson } from '../db/json.js';
import { readSentence, storedSentence, type Sentence } from './stored-sentence.js';
import { JOB_KINDS, kindsOf, mostAttempts, type JobKind, type Role } from './job-kinds.js';

export type { JobProgress, JobState };

export interface Job extends Sentence {
  readonly id: number;
  /** One of JOB_KINDS; a later version may have queued others. */
  readonly kind: string;
  /** SHA-256 of a master, or the id of a delivery. */
  readonly subject: string;
  readonly state: JobState;
  readonly progress: JobProgress | null;
  readonly stopRequested: boolean;
}

/** One attempt at a job: a worker with an older number was presumed dead, and gives up. */
export interface Claim {
  readonly id: number;
  readonly claim: number;
}

/** A job that a worker has taken. */
export type ClaimedJob = Job & Claim;

const parse: Parse<Job> = (row) => ({
  id: Number(row.id),
  kind: String(row.kind),
  subject: String(row.subject),
  state: jobState.parse(row.state),
  progress: fromJsonOr(jobProgress, row.progress, null),
  ...readSentence(row.message),
  stopRequested: Boolean(row.stop_requested),
});

const COLUMNS = 'id, kind, subject, state, progress, message, stop_requested';

export async function enqueue(db: Db, kind: JobKind, subject: string): Promise<number> {
  return (
    await db.execute(
      'INSERT INTO jobs (kind, priority, subject, created_at) VALUES (?, ?, ?, UTC_TIMESTAMP(3))',
      [kind, JOB_KINDS[kind].priority, subject],
    )
  ).insertId;
}

/** Queues a job unless one for the same subject is waiting or at work. */
export async function enqueueOnce(db: Database, kind: JobKind, subject: string): Promise<void> {
  // Several who ask at once are in each other's way in the queue's index.
  await againWhereLocked(() =>
    db.execute(
      `INSERT INTO jobs (kind, priority, subject, created_at) SELECT ?, ?, ?, UTC_TIMESTAMP(3) FROM DUAL
       WHERE NOT EXISTS (SELECT 1 FROM jobs WHERE kind = ? AND subject = ? AND state IN ('queued', 'running'))`,
      [kind, JOB_KINDS[kind].priority, subject, kind, subject],
    ),
  );
}

/**
 * Takes the next job for a worker or a courier (undefined: of any kind), by priority, then by turn; two workers never get the same one. Rows are taken in the order of an index, so that only the one row is locked and other workers find the next.
 */
export function claim(database: Database, worker: string, role?: Role): Promise<ClaimedJob | undefined> {
  // Kinds that a later version has queued are for workers to say so.
  const couriers = kindsOf('courier')
    .map((kind) => `'${kind}'`)
    .join(', ');
  const own = role === undefined ? '' : `AND kind ${role === 'courier' ? '' : 'NOT '}IN (${couriers})`;
  return database.transaction(async (db) => {
    const job = await db.maybeOne(
      (row) => ({ ...parse(row), claim: Number(row.claim) + 1 }),
      `SELECT ${COLUMNS}, claim FROM jobs FORCE INDEX (queue_by_priority) WHERE state = 'queued' ${own} ORDER BY priority, turn, id LIMIT 1 FOR UPDATE SKIP LOCKED`,
    );
    if (!job) return undefined;
    await db.execute(
      "UPDATE jobs SET state = 'running', worker = ?, attempts = attempts + 1, claim = ?, beat = beat + 1, heartbeat_at = UTC_TIMESTAMP(3), progress = NULL WHERE id = ?",
      [worker, job.claim, job.id],
    );
    return { ...job, state: 'running' };
  });
}

/** Whether any job waits: one look at an index, without the transaction that taking one needs. */
export async function isAnyQueued(db: Db): Promise<boolean> {
  const found = await db.maybeOne(() => true, "SELECT id FROM jobs WHERE state = 'queued' LIMIT 1");
  return found === true;
}

/** What an attempt may still write to: the job, as long as it is its own. */
const OWN = "id = ? AND claim = ? AND state = 'running'";

/** Notes progress and that the worker lives. @returns whether to go on, to stop on request, or to give up since the job is another's by now */
export async function heartbeat(
  db: Db,
  { id, claim: own }: Claim,
  progress: JobProgress | null,
): Promise<'go on' | 'stop' | 'lost'> {
  const { changed } = await db.execute(
    `UPDATE jobs SET heartbeat_at = UTC_TIMESTAMP(3), beat = beat + 1, progress = ? WHERE ${OWN}`,
    [progress && toJson(jobProgress, progress), id, own],
  );
  if (changed === 0) return 'lost';
  const wanted = await db.maybeOne(
    (row) => Boolean(row.stop_requested),
    `SELECT stop_requested FROM jobs WHERE ${OWN}`,
    [id, own],
  );
  return wanted === undefined ? 'lost' : wanted ? 'stop' : 'go on';
}

/** Ends an attempt. @returns false where the job is another's by now: then nothing is changed */
export async function finish(
  db: Db,
  { id, claim: own }: Claim,
  state: 'done' | 'failed' | 'stopped',
  why: Message | string | null,
): Promise<boolean> {
  const { changed } = await db.execute(
    `UPDATE jobs SET state = ?, message = ?, finished_at = UTC_TIMESTAMP(3), worker = NULL WHERE ${OWN}`,
    [state, why && storedSentence(why), id, own],
  );
  return changed === 1;
}

/** Gives a job back unfinished, as a worker does that is told to shut down; it counts as no attempt. */
export async function release(db: Db, { id, claim: own }: Claim): Promise<void> {
  await db.execute(
    `UPDATE jobs SET state = 'queued', worker = NULL, progress = NULL, attempts = attempts - 1 WHERE ${OWN}`,
    [id, own],
  );
}

/** Says that the worker lives, without news. */
export async function keepAlive(db: Db, { id, claim: own }: Claim): Promise<void> {
  await db.execute(`UPDATE jobs SET heartbeat_at = UTC_TIMESTAMP(3), beat = beat + 1 WHERE ${OWN}`, [
    id,
    own,
  ]);
}

/** A job at work, and how often it was heard of. */
export interface RunningJob extends Claim {
  readonly kind: string;
  readonly subject: string;
  readonly beat: number;
}

const parseRunning: Parse<RunningJob> = (row) => ({
  id: Number(row.id),
  claim: Number(row.claim),
  kind: String(row.kind),
  subject: String(row.subject),
  beat: Number(row.beat),
});

export const runningJobs = (db: Db): Promise<RunningJob[]> =>
  db.many(parseRunning, "SELECT id, claim, kind, subject, beat FROM jobs WHERE state = 'running'");

/**
 * Takes a job from a worker that is dead, back into the queue, or gives it up after several tries.
 * @returns what became of it; nothing where it was heard of meanwhile
 */
export async function takeFromDead(
  db: Db,
  { id, claim: own, beat, kind }: RunningJob,
): Promise<'queued' | 'given up' | 'alive'> {
  const most = mostAttempts(kind);
  const silent = `${OWN} AND beat = ?`;
  const { changed: given } = await db.execute(
    `UPDATE jobs SET state = 'failed', worker = NULL, finished_at = UTC_TIMESTAMP(3), message = ? WHERE ${silent} AND attempts >= ${most}`,
    [
      storedSentence(
        msg(
          'Its worker was killed or the machine stopped {count} times during this job, so it was given up. Use “Render again”.',
          { count: most },
        ),
      ),
      id,
      own,
      beat,
    ],
  );
  if (given > 0) return 'given up';
  const { changed } = await db.execute(
    `UPDATE jobs SET state = 'queued', worker = NULL, progress = NULL WHERE ${silent}`,
    [id, own, beat],
  );
  return changed > 0 ? 'queued' : 'alive';
}

/**
 * Puts back the jobs of workers of this machine that are gone, when the server starts. A worker that outlived the last server keeps its
 * job: two workers on one job would each take away what the other needs. It counts as no attempt.
 * @param isAlive whether the worker of a name still runs
 */
export async function requeueInterrupted(
  db: Db,
  machine: string,
  isAlive: (worker: string) => boolean,
): Promise<void> {
  const running = await db.many(
    (row) => ({ id: Number(row.id), claim: Number(row.claim), worker: String(row.worker) }),
    "SELECT id, claim, worker FROM jobs WHERE state = 'running' AND SUBSTRING_INDEX(worker, ':', 1) = ?",
    [machine],
  );
  for (const job of running)
    if (!isAlive(job.worker))
      await db.execute(
        `UPDATE jobs SET state = 'queued', worker = NULL, progress = NULL, attempts = GREATEST(attempts, 1) - 1 WHERE ${OWN}`,
        [job.id, job.claim],
      );
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

import { msg, type Message } from '@oiseau/messages';
import { AudioRefused } from '@oiseau/audio/pcm';
import { Failure } from '@oiseau/audio/errors';
import { isDiskFull, TargetRefused, type BesideIt, type Threads } from '@oiseau/host';
import type { Logger } from 'pino';
import { isAway, untilBack } from '../db/away.js';
import type { Database } from '../db/database.js';
import type { MediaStore } from '../media/media-store.js';
import { handlerOf } from './handlers.js';
import { isJobKind, JOB_KINDS, type Role } from '../jobs/job-kinds.js';
import type { DeadWorkers } from '../jobs/dead-workers.js';
import { JobLost, JobStopped, WorkerLeaving } from '../jobs/job-errors.js';
import {
  claim,
  finish,
  isAnyQueued,
  keepAlive,
  release,
  runningJobs,
  type ClaimedJob,
} from '../jobs/job-repository.js';
import type { RunningJob } from '../jobs/job-repository.js';
import { clearAttempts } from '../deliveries/attempts.js';
import { ProgressReporter } from '../jobs/progress-reporter.js';

export interface WorkerParts {
  readonly db: Database;
  readonly media: MediaStore;
  readonly log: Logger;
  /** Tells workers apart in the jobs table. */
  readonly name: string;
  readonly dead: DeadWorkers;
  /** Whose jobs it does; left out: all. */
  readonly role?: Role;
  /** Help with jobs that compute; left out: each is done by one thread. */
  readonly threads?: Threads;
  /** True once the worker should end. */
  readonly leaving: () => boolean;
}

/**
 * Takes the next job, if there is one, and does it; false when nothing waited.
 * @param claimed is told as soon as there is one, before it is done
 */
export async function workOnce(parts: WorkerParts, claimed: () => void = () => undefined): Promise<boolean> {
  const { db, log } = parts;
  for (const given of await parts.dead.look(db)) await cleanUp(parts, given);
  if (!(await isAnyQueued(db))) return false;
  const job = await claim(db, parts.name, parts.role);
  if (!job) return false;
  claimed();
  // A long stretch without progress (a slow disk, a file being closed) must not look like a dead worker.
  const pulse = setInterval(() => void touch(parts, job), 5000);
  try {
    await perform(parts, job);
    await untilBack(() => finish(db, job, 'done', null));
  } catch (error) {
    if (error instanceof JobLost) log.info({ job: job.id }, 'job was taken over by another worker');
    else if (error instanceof WorkerLeaving) await release(db, job);
    else if (isAway(error)) {
      // No fault of the job: it begins anew when the database is back.
      log.info({ job: job.id }, 'the database went away; the job waits for it');
      await untilBack(() => release(db, job));
    } else if (error instanceof JobStopped) await untilBack(() => finish(db, job, 'stopped', null));
    else {
      log.error({ err: error, job: job.id }, 'job failed');
      await untilBack(() => finish(db, job, 'failed', failureSentence(error)));
    }
  } finally {
    clearInterval(pulse);
  }
  return true;
}

/** A job that is given up leaves nothing behind. */
async function cleanUp({ media, log }: WorkerParts, { kind, subject, id }: RunningJob): Promise<void> {
  if (kind !== 'render') return;
  await clearAttempts(media, subject).catch((error: unknown) =>
    log.error({ err: error, job: id }, 'what a render left could not be cleared'),
  );
}

async function perform(parts: WorkerParts, job: ClaimedJob): Promise<void> {
  const { db, media, leaving } = parts;
  const progress = new ProgressReporter(db, job, leaving);
  await handlerOf(job.kind)(db, media, job.subject, progress, await besideOf(parts));
}

/** Of the threads a job takes as many as are left to it where every job at work has its share. */
async function besideOf({ db, threads }: WorkerParts): Promise<BesideIt | null> {
  if (!threads) return null;
  const computing = (await runningJobs(db)).filter(
    ({ kind }) => isJobKind(kind) && JOB_KINDS[kind].by === 'worker',
  );
  return { threads, share: Math.max(1, Math.floor(threads.most / Math.max(1, computing.length))) };
}

async function touch({ db, log }: WorkerParts, job: ClaimedJob): Promise<void> {
  try {
    await keepAlive(db, job);
  } catch (error) {
    log.error({ err: error, job: job.id }, 'heartbeat failed');
  }
}

function failureSentence(error: unknown): Message | string {
  if (isDiskFull(error))
    return msg('The disk is full. Incomplete files were removed. Free some space and try again.');
  if (error instanceof AudioRefused)
    return msg('A master can’t be read: {reason}', { reason: error.words ?? error.message });
  if (error instanceof TargetRefused)
    return msg('The folder of this delivery contains other files. Delete the delivery’s files first.');
  if (error instanceof Failure) return error.words ?? error.message;
  return msg('An error occurred in the worker. See the server log.');
}

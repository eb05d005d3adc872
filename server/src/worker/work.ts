import { AudioRefused, Failure } from '@oiseau/core';
import { isDiskFull, TargetRefused } from '@oiseau/host';
import type { Logger } from 'pino';
import type { Database } from '../db/database.js';
import type { MediaStore } from '../media/media-store.js';
import { handlerOf } from './handlers.js';
import { JobStopped, WorkerLeaving } from '../jobs/job-errors.js';
import { claim, finish, keepAlive, recoverDead, release, type Job } from '../jobs/job-repository.js';
import { ProgressReporter } from '../jobs/progress-reporter.js';

export interface WorkerParts {
  readonly db: Database;
  readonly media: MediaStore;
  readonly log: Logger;
  /** Tells workers apart in the jobs table. */
  readonly name: string;
  /** True once the worker should end. */
  readonly leaving: () => boolean;
}

/** Takes the next job, if there is one, and does it; false when nothing waited. */
export async function workOnce(parts: WorkerParts): Promise<boolean> {
  const { db, log } = parts;
  await recoverDead(db);
  const job = await claim(db, parts.name);
  if (!job) return false;
  // A long stretch without progress (a slow disk, a file being closed) must not look like a dead worker.
  const pulse = setInterval(() => void touch(parts, job), 5000);
  try {
    await perform(parts, job);
    await finish(db, job.id, 'done', null);
  } catch (error) {
    if (error instanceof WorkerLeaving) await release(db, job.id);
    else if (error instanceof JobStopped) await finish(db, job.id, 'stopped', null);
    else {
      log.error({ err: error, job: job.id }, 'job failed');
      await finish(db, job.id, 'failed', failureSentence(error));
    }
  } finally {
    clearInterval(pulse);
  }
  return true;
}

async function perform({ db, media, leaving }: WorkerParts, job: Job): Promise<void> {
  await handlerOf(job.kind)(db, media, job.subject, new ProgressReporter(db, job.id, leaving));
}

async function touch({ db, log }: WorkerParts, job: Job): Promise<void> {
  try {
    await keepAlive(db, job.id);
  } catch (error) {
    log.error({ err: error, job: job.id }, 'heartbeat failed');
  }
}

function failureSentence(error: unknown): string {
  if (isDiskFull(error)) return 'The disk is full; nothing half-done was left. Make room and try again.';
  if (error instanceof AudioRefused) return `A master can't be read: ${error.message}`;
  if (error instanceof TargetRefused)
    return 'The folder of this delivery holds what no render has written; clear its files first.';
  if (error instanceof Failure) return error.message;
  return 'Something went wrong in the worker; the server log has the details.';
}

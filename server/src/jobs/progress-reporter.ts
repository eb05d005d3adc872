import { isAway } from '../db/away.js';
import type { Database } from '../db/database.js';
import { JobLost, JobStopped, WorkerLeaving } from './job-errors.js';
import { heartbeat, type Claim, type JobProgress } from './job-repository.js';

/** How often progress goes to the database; also how soon a stop is obeyed. */
const REPORT_MS = 300;

/** Takes a job's progress as often as it comes and writes it down now and then. */
export class ProgressReporter {
  #lastReport = 0;
  readonly #started = performance.now();

  constructor(
    readonly db: Database,
    readonly job: Claim,
    readonly leaving: () => boolean,
  ) {}

  /**
   * @param share of the whole job, 0 to 1
   * @param audioSeconds seconds of audio worked through so far
   * @throws JobStopped when a user stopped it, JobLost when the job is another's by now, WorkerLeaving when the worker shuts down
   */
  async report(phase: string, share: number, audioSeconds: number): Promise<void> {
    if (this.leaving()) throw new WorkerLeaving();
    const now = performance.now();
    if (now - this.#lastReport < REPORT_MS) return;
    this.#lastReport = now;
    const elapsed = Math.max(1e-3, (now - this.#started) / 1000);
    const progress: JobProgress = {
      phase,
      share: Number.isFinite(share) ? share : 0,
      speed: audioSeconds / elapsed,
      secondsLeft: share > 0.02 ? (elapsed * (1 - share)) / share : null,
    };
    const word = await heartbeat(this.db, this.job, progress).catch((error: unknown) => {
      // The work goes on while the database is away; whether it still is ours shows when it is back.
      if (isAway(error)) return 'go on' as const;
      throw error;
    });
    if (word === 'stop') throw new JobStopped();
    if (word === 'lost') throw new JobLost();
  }
}

import { runningJobs, takeFromDead, type RunningJob } from './job-repository.js';
import type { Db } from '../db/database.js';

/** A worker that was not heard of for so long, while we looked, is taken for dead. */
const DEAD_AFTER_MS = 15_000;
/** Longest time that counts between two checks: the checking machine may have been asleep as well. */
const MOST_BETWEEN_LOOKS_MS = 1000;

interface Watched {
  readonly claim: number;
  readonly beat: number;
  /** How long it has been silent, of the time in which we looked. */
  silentMs: number;
}

/**
 * Tells dead workers by their silence. The time is this process's own, in which it was awake: no clock of the machine counts, and neither
 * does the time that a laptop was closed.
 */
export class DeadWorkers {
  readonly #watched = new Map<number, Watched>();
  #lastLook: number | undefined;

  /** @param now milliseconds of a clock that can't be set */
  constructor(readonly now: () => number = () => performance.now()) {}

  /** Takes jobs from dead workers. @returns those that were given up */
  async look(db: Db): Promise<RunningJob[]> {
    const now = this.now();
    const passed = Math.min(MOST_BETWEEN_LOOKS_MS, now - (this.#lastLook ?? now));
    this.#lastLook = now;
    const running = await runningJobs(db);
    const ids = new Set(running.map(({ id }) => id));
    for (const id of this.#watched.keys()) if (!ids.has(id)) this.#watched.delete(id);
    const given: RunningJob[] = [];
    for (const job of running) {
      const known = this.#watched.get(job.id);
      if (known?.claim !== job.claim || known.beat !== job.beat) {
        this.#watched.set(job.id, { claim: job.claim, beat: job.beat, silentMs: 0 });
        continue;
      }
      known.silentMs += passed;
      if (known.silentMs < DEAD_AFTER_MS) continue;
      this.#watched.delete(job.id);
      if ((await takeFromDead(db, job)) === 'given up') given.push(job);
    }
    return given;
  }
}

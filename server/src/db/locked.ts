import { setTimeout as wait } from 'node:timers/promises';

/** Two statements were in each other's way, and one of them was given up: a deadlock, a lock that took too long, a number that could not be taken. */
const IN_THE_WAY: ReadonlySet<unknown> = new Set([
  'ER_LOCK_DEADLOCK',
  'ER_LOCK_WAIT_TIMEOUT',
  'ER_AUTOINC_READ_FAILED',
]);
const MOST_TRIES = 6;

/** Does work again that another statement was in the way of. It must be one statement, or a transaction as a whole. */
export async function againWhereLocked<T>(work: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++)
    try {
      return await work();
    } catch (error) {
      if (tries === MOST_TRIES || !IN_THE_WAY.has((error as { code?: unknown }).code)) throw error;
      await wait(5 * 2 ** tries * (0.5 + Math.random()));
    }
}

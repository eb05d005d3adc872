import { setTimeout as sleep } from 'node:timers/promises';
import type { Db } from '../db/database.js';
import { ApiError } from '../http/api-error.js';

/** Slips of the hand that cost nothing. */
const FREE_TRIES = 3;
const FIRST_WAIT_MS = 250;
const LONGEST_WAIT_MS = 5000;
/** Tries of one address that wait for their answer at the same time. */
const MOST_WAITING = 8;
/** After so long without a try, counting begins anew. */
const FORGET_MINUTES = 15;

const waiting = new Map<string, number>();

/** How long the answer to a wrong key waits: twice as long with each try. */
export const waitFor = (tries: number): number =>
  tries <= FREE_TRIES ? 0 : Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** (tries - FREE_TRIES - 1));

/**
 * Counts a wrong key from an address, in the database, and lets its answer wait. The right key is never kept waiting, so that nobody can
 * lock somebody else out.
 * @throws ApiError 429 for an address with too many tries at the same time
 */
export async function failedTry(db: Db, address: string): Promise<void> {
  await db.execute(
    `INSERT INTO failed_tries (address, tries, last_at) VALUES (?, 1, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE tries = IF(last_at < UTC_TIMESTAMP(3) - INTERVAL ${FORGET_MINUTES} MINUTE, 1, LEAST(tries + 1, 1000000)), last_at = UTC_TIMESTAMP(3)`,
    [address],
  );
  const tries = await db.one((row) => Number(row.tries), 'SELECT tries FROM failed_tries WHERE address = ?', [
    address,
  ]);
  const now = waiting.get(address) ?? 0;
  if (now >= MOST_WAITING) throw new ApiError(429, 'Too many wrong keys; wait a little.');
  waiting.set(address, now + 1);
  await sleep(waitFor(tries));
  const left = (waiting.get(address) ?? 1) - 1;
  if (left > 0) waiting.set(address, left);
  else waiting.delete(address);
}

export async function forgetTries(db: Db, address: string): Promise<void> {
  await db.execute('DELETE FROM failed_tries WHERE address = ?', [address]);
}

import { msg } from '@oiseau/messages';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Db } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import { hashOf } from './key-repository.js';

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
 * Counts a wrong key from an address, in the database, and lets its answer wait. Keys are 256 random bits and can't be guessed, so the right
 * one never waits and no one can lock out another user.
 * @throws ApiError 429 for an address with too many tries at the same time
 */
export async function failedTry(db: Db, address: string): Promise<void> {
  const now = waiting.get(address) ?? 0;
  if (now >= MOST_WAITING)
    throw new ApiError(429, msg('Too many failed sign-ins. Wait a moment and try again.'));
  waiting.set(address, now + 1);
  try {
    await db.execute(
      `INSERT INTO failed_tries (address, tries, last_at) VALUES (?, 1, UTC_TIMESTAMP(3))
       ON DUPLICATE KEY UPDATE tries = IF(last_at < UTC_TIMESTAMP(3) - INTERVAL ${FORGET_MINUTES} MINUTE, 1, LEAST(tries + 1, 1000000)), last_at = UTC_TIMESTAMP(3)`,
      [address],
    );
    const tries = await db.one(
      (row) => Number(row.tries),
      'SELECT tries FROM failed_tries WHERE address = ?',
      [address],
    );
    await sleep(waitFor(tries));
  } finally {
    const left = (waiting.get(address) ?? 1) - 1;
    if (left > 0) waiting.set(address, left);
    else waiting.delete(address);
  }
}

export async function forgetTries(db: Db, address: string): Promise<void> {
  await db.execute('DELETE FROM failed_tries WHERE address = ?', [address]);
}

/** How often something may be tried whose answer people choose, and therefore guess. */
interface Allowance {
  /** Tries that wait for nothing. */
  readonly free: number;
  /** Seconds until the next one after that, doubled with each up to `longest`. */
  readonly first: number;
  readonly longest: number;
}

/** Of one caller: 5 tries, then one after 1, 2, 4 … 60 seconds. */
export const EACH_CALLER: Allowance = { free: 5, first: 1, longest: 60 };
/** Of all callers together: 50 tries, then one after 1, 2, 4 … 10 seconds. */
export const ALL_CALLERS: Allowance = { free: 50, first: 1, longest: 10 };

/**
 * Takes a turn at trying a password: counted before anything is compared, so that a right password is throttled like a wrong one and a
 * refused try costs one statement.
 * @param subject what is tried, and by whom
 * @throws ApiError 429, which says how long to wait
 */
export async function takeTurn(db: Db, subject: string, { free, first, longest }: Allowance): Promise<void> {
  const address = hashOf(subject);
  await db.execute(
    `INSERT IGNORE INTO failed_tries (address, tries, last_at) VALUES (?, 0, UTC_TIMESTAMP(3))`,
    [address],
  );
  const wait = `IF(tries < ${free}, 0, LEAST(${longest}, ${first} * POW(2, LEAST(20, tries - ${free}))))`;
  const { changed } = await db.execute(
    `UPDATE failed_tries SET tries = IF(last_at < UTC_TIMESTAMP(3) - INTERVAL ${FORGET_MINUTES} MINUTE, 1, LEAST(tries + 1, 1000000)), last_at = UTC_TIMESTAMP(3)
     WHERE address = ? AND last_at <= UTC_TIMESTAMP(3) - INTERVAL ${wait} SECOND`,
    [address],
  );
  if (changed > 0) return;
  const seconds = await db.maybeOne(
    (row) => Number(row.seconds),
    `SELECT CEIL(${wait} - TIMESTAMPDIFF(MICROSECOND, last_at, UTC_TIMESTAMP(3)) / 1e6) AS seconds FROM failed_tries WHERE address = ?`,
    [address],
  );
  throw new ApiError(
    429,
    msg('Too many tries. Try again in {value} s.', { value: Math.max(1, seconds ?? 1) }),
  );
}

/** A try was right: its turns are given back. */
export const forgetTurns = (db: Db, subject: string): Promise<void> => forgetTries(db, hashOf(subject));

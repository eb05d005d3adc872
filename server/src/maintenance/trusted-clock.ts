import type { Database } from '../db/database.js';

/** So far the clock is believed to have gone on since it was read last, at most. */
const MOST_STEP_MS = 2 * 24 * 3600_000;

/**
 * The time by which clean-up deletes: this machine's clock, as long as it goes on as clocks do. One that is suddenly months ahead moves it by
 * two days at a time, so that nothing whose time is not over is deleted before a user sees the wrong date.
 * @param now of this machine's clock, in milliseconds
 */
export function trustedNow(db: Database, now = Date.now()): Promise<number> {
  return db.transaction(async (transaction) => {
    const before = await transaction.maybeOne(
      (row) => ({ last: (row.last_at as Date).getTime(), trusted: (row.trusted_at as Date).getTime() }),
      'SELECT last_at, trusted_at FROM clean_up_clock WHERE id = 1 FOR UPDATE',
    );
    // Read for the first time: nothing tells that it goes right but what was done last.
    const { last, trusted } = before ?? (await lastActivity(transaction, now));
    const step = Math.min(MOST_STEP_MS, Math.max(0, now - last));
    const next = Math.min(now, trusted + step);
    await transaction.execute('REPLACE INTO clean_up_clock (id, last_at, trusted_at) VALUES (1, ?, ?)', [
      new Date(now),
      new Date(next),
    ]);
    return next;
  });
}

async function lastActivity(
  db: Pick<Database, 'one'>,
  now: number,
): Promise<{ last: number; trusted: number }> {
  const at = await db.one(
    (row) => (row.at === null ? now : (row.at as Date).getTime()),
    'SELECT GREATEST(MAX(updated_at), COALESCE(MAX(deleted_at), MAX(updated_at))) AS at FROM albums',
  );
  return { last: at, trusted: at };
}

import { setTimeout as sleep } from 'node:timers/promises';

/** How mysql2 and the system say that the database is not there, or does not answer. */
const AWAY = new Set([
  ...['ECONNREFUSED', 'ECONNRESET', 'ENOENT', 'EPIPE', 'ETIMEDOUT', 'PROTOCOL_CONNECTION_LOST'],
  ...['PROTOCOL_SEQUENCE_TIMEOUT', 'ER_SERVER_SHUTDOWN', 'ER_CONNECTION_KILLED', 'ER_CON_COUNT_ERROR'],
]);

const ofDatabase = new WeakSet<Error>();

/** Notes that an error came from the database: other connections fail with the same codes. */
export function noteOfDatabase(error: unknown): never {
  if (error instanceof Error) ofDatabase.add(error);
  throw error;
}

/** Whether an error says that the database is away, and not that a query is wrong, or that something else is away. */
export function isAway(error: unknown): boolean {
  if (!(error instanceof Error) || !ofDatabase.has(error)) return false;
  const { code, fatal, syscall } = error as { code?: string; fatal?: boolean; syscall?: string };
  if (code === undefined || !AWAY.has(code)) return false;
  // A file that is not there has the same code as a socket that is not.
  return code !== 'ENOENT' || syscall === 'connect' || fatal === true;
}

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 10_000;
/** How long a finished job waits for the database to come back. */
const PATIENCE_MS = 10 * 60_000;

/** Does something in the database, and again while that is away; for what must not be lost. */
export async function untilBack<T>(work: () => Promise<T>): Promise<T> {
  const started = performance.now();
  for (let wait = FIRST_WAIT_MS; ; wait = Math.min(LONGEST_WAIT_MS, 2 * wait)) {
    try {
      return await work();
    } catch (error) {
      if (!isAway(error) || performance.now() - started > PATIENCE_MS) throw error;
      await sleep(wait);
    }
  }
}

import type { Database, Db } from './database.js';
import { MIGRATIONS } from './migrations.js';

/**
 * Brings the database up to date. Only one process migrates at a time: schema changes are not transactional in MariaDB, so a
 * named lock stands guard, and its answer is read.
 * @param before is called with what is about to run, where the database holds anything yet
 * @param known a database of an earlier version has fewer of them
 * @returns the names of the migrations that were run
 */
export function migrate(
  database: Database,
  before: (pending: readonly string[]) => Promise<void> = () => Promise.resolve(),
  known = MIGRATIONS,
): Promise<string[]> {
  return database.locked('oiseau-migrate', 30, async (db) => {
    await db.execute(
      'CREATE TABLE IF NOT EXISTS migrations (name VARCHAR(200) PRIMARY KEY, run_at DATETIME(3) NOT NULL) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin',
    );
    const done = new Set(await db.many((row) => String(row.name), 'SELECT name FROM migrations'));
    const unknown = [...done].filter((name) => !known.some((migration) => migration.name === name));
    if (unknown.length > 0)
      throw new Error(`This database was made by a later version of Oiseau (it has “${unknown[0]}”).`);
    const pending = known.filter(({ name }) => !done.has(name));
    if (done.size > 0 && pending.length > 0) await before(pending.map(({ name }) => name));
    for (const { name, statements } of pending) {
      for (const statement of statements) await db.execute(statement);
      await db.execute('INSERT INTO migrations (name, run_at) VALUES (?, UTC_TIMESTAMP(3))', [name]);
    }
    return pending.map(({ name }) => name);
  });
}

/** A worker does no job of a database that is of another version than its own. @throws Error whose message says so */
export async function demandSameVersion(db: Db): Promise<void> {
  const done = await db.many((row) => String(row.name), 'SELECT name FROM migrations ORDER BY name');
  const known = MIGRATIONS.map(({ name }) => name);
  if (done.length > known.length)
    throw new Error('The database is of a later version of Oiseau than this worker.');
  if (done.length < known.length)
    throw new Error('The database is of an earlier version of Oiseau than this worker.');
}

import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, open } from 'node:fs/promises';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import * as z from 'zod';
import type { Database, Db, Snapshot, SqlValue } from '../db/database.js';

/** Of no use to anybody elsewhere: who is signed in at the moment, who has tried in vain, and what is measured anew when it is asked for. */
const LEFT_OUT = [
  'sessions',
  'listener_sessions',
  'failed_tries',
  'migrations',
  'sounds',
  'intakes',
  'clean_up_clock',
  'changes',
  'album_changes',
];

/** A table that lies in a file: a line for each row, as JSON. */
export const dumpedTable = z.object({ rows: z.int(), bytes: z.int(), sha256: z.string() });
export type DumpedTables = Readonly<Record<string, z.output<typeof dumpedTable>>>;

const tableFile = (folder: string, table: string): string => join(folder, `${table}.jsonl`);

/** What JSON has no word for: moments, and bytes. */
function plain(value: unknown): unknown {
  if (value instanceof Date) return { moment: value.toISOString() };
  if (Buffer.isBuffer(value)) return { bytes: value.toString('base64') };
  return value;
}

const stored = z.union([
  z.string(),
  z.number(),
  z.null(),
  z.strictObject({ moment: z.iso.datetime() }).transform(({ moment }) => new Date(moment)),
  z.strictObject({ bytes: z.base64() }).transform(({ bytes }) => Buffer.from(bytes, 'base64')),
]);
const storedRow = z.record(z.string().regex(/^\w+$/), stored);

/** Writes every table into a folder; no more than a few rows are in memory at a time. */
export async function dumpTables(snapshot: Snapshot, folder: string): Promise<DumpedTables> {
  await mkdir(folder, { recursive: true });
  const tables: Record<string, z.output<typeof dumpedTable>> = {};
  for (const table of await snapshot.tables())
    if (!LEFT_OUT.includes(table)) tables[table] = await dumpTable(snapshot, table, folder);
  return tables;
}

async function dumpTable(
  snapshot: Snapshot,
  table: string,
  folder: string,
): Promise<z.output<typeof dumpedTable>> {
  const hash = createHash('sha256');
  const file = await open(tableFile(folder, table), 'wx');
  let rows = 0;
  let bytes = 0;
  try {
    for await (const row of snapshot.rows(table)) {
      const values = Object.entries(row).map(([column, value]) => [column, plain(value)]);
      const line = Buffer.from(`${JSON.stringify(Object.fromEntries(values))}\n`);
      hash.update(line);
      await file.write(line);
      rows++;
      bytes += line.length;
    }
    await file.sync();
  } finally {
    await file.close();
  }
  return { rows, bytes, sha256: hash.digest('hex') };
}

/** Puts dumped tables into a database that has them, empty. */
export async function restoreTables(database: Database, folder: string, tables: DumpedTables): Promise<void> {
  await database.transaction(async (db) => {
    // The rows are as they were, in whatever order the tables come.
    await db.execute('SET SESSION foreign_key_checks = 0');
    try {
      for (const table of Object.keys(tables)) await restoreTable(db, table, folder);
    } finally {
      await db.execute('SET SESSION foreign_key_checks = 1');
    }
  });
}

async function restoreTable(db: Db, table: string, folder: string): Promise<void> {
  if (!/^\w+$/.test(table)) throw new RangeError('not a table');
  const lines = createInterface({ input: createReadStream(tableFile(folder, table)), crlfDelay: Infinity });
  for await (const line of lines) {
    const row: Record<string, SqlValue> = storedRow.parse(JSON.parse(line));
    const columns = Object.keys(row);
    await db.execute(
      `INSERT INTO \`${table}\` (${columns.map((column) => `\`${column}\``).join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`,
      Object.values(row),
    );
  }
}

/**
 * Tables of a dump that are not as they were written, in a sentence each.
 * @param sumOf the SHA-256 of a file of the dump; null: it is missing
 */
export async function faultsOfTables(
  tables: DumpedTables,
  sumOf: (file: string) => Promise<string | null>,
): Promise<string[]> {
  const faults: string[] = [];
  for (const [table, { sha256 }] of Object.entries(tables)) {
    const sum = await sumOf(`${table}.jsonl`);
    if (sum === null) faults.push(`The table ${table} is missing.`);
    else if (sum !== sha256) faults.push(`The table ${table} has changed.`);
  }
  return faults;
}

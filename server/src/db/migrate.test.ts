import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { freshDatabase } from '../testing/harness.js';
import { RowCountError, type Database } from './database.js';
import { claim, newestJob } from '../jobs/job-repository.js';
import { findMaster } from '../masters/master-repository.js';
import { migrate } from './migrate.js';
import { MIGRATIONS } from './migrations.js';

let db: Database;
let drop: () => Promise<void>;
beforeEach(async () => {
  ({ db, drop } = await freshDatabase());
});
afterEach(() => drop());

describe('migrations', () => {
  it('run once, also when two servers start together', async () => {
    const [one, two] = await Promise.all([migrate(db), migrate(db)]);
    expect([...one, ...two].sort()).toEqual(MIGRATIONS.map(({ name }) => name).sort());
    expect(await migrate(db)).toEqual([]);
  });

  it('go on where an interrupted one stopped', async () => {
    const first = MIGRATIONS[0];
    await db.execute(first?.statements[0] ?? '');
    expect(await migrate(db)).toEqual(MIGRATIONS.map(({ name }) => name));
  });

  it('bring the masters of the first version along, to be measured anew', async () => {
    for (const statement of MIGRATIONS[0]?.statements ?? []) await db.execute(statement);
    const info = `{"container":"RIFF","rate":44100,"channels":2,"format":"int16","validBits":16,"length":9,"dataOffset":44}`;
    await db.execute(
      "INSERT INTO masters (sha256, bytes, info, measurement, created_at) VALUES (?, 80, ?, '{}', UTC_TIMESTAMP(3))",
      ['ab'.repeat(32), info],
    );
    await migrate(db);
    expect(await findMaster(db, 'ab'.repeat(32))).toMatchObject({
      info: { order: 'little', length: 9 },
      coding: null,
      embedded: { fields: {}, cues: [], cover: null },
      measurement: null,
    });
    expect(await newestJob(db, 'measure', 'ab'.repeat(32))).toMatchObject({ state: 'queued' });
  });

  it('keep waiting jobs and what goes first when kinds become text', async () => {
    for (const { statements } of MIGRATIONS.slice(0, 3))
      for (const statement of statements) await db.execute(statement);
    for (const [kind, subject] of [
      ['render', 'long'],
      ['measure', 'short'],
    ] as const)
      await db.execute('INSERT INTO jobs (kind, subject, created_at) VALUES (?, ?, UTC_TIMESTAMP(3))', [
        kind,
        subject,
      ]);
    await migrate(db);
    expect(await claim(db, 'w')).toMatchObject({ kind: 'measure', subject: 'short' });
    expect(await claim(db, 'w')).toMatchObject({ kind: 'render', subject: 'long' });
  });

  it('refuse the database of a later version', async () => {
    await migrate(db);
    await db.execute("INSERT INTO migrations (name, run_at) VALUES ('900 things to come', UTC_TIMESTAMP(3))");
    await expect(migrate(db)).rejects.toThrow('later version');
  });
});

describe('queries', () => {
  it('say how many rows they expect', async () => {
    const number = (row: Record<string, unknown>): number => Number(row.n);
    expect(await db.one(number, 'SELECT ? AS n', [7])).toBe(7);
    expect(await db.maybeOne(number, 'SELECT 1 AS n FROM DUAL WHERE FALSE')).toBeUndefined();
    await expect(db.one(number, 'SELECT 1 AS n FROM DUAL WHERE FALSE')).rejects.toThrow(RowCountError);
    await expect(db.maybeOne(number, 'SELECT 1 AS n UNION ALL SELECT 2')).rejects.toThrow(RowCountError);
  });

  it('in a transaction are all kept or none', async () => {
    await migrate(db);
    const insert = (name: string) =>
      db.transaction(async (inside) => {
        await inside.execute('INSERT INTO migrations (name, run_at) VALUES (?, UTC_TIMESTAMP(3))', [name]);
        if (name === 'bad') throw new Error('changed my mind');
      });
    await insert('good');
    await expect(insert('bad')).rejects.toThrow('changed my mind');
    const names = await db.many(
      (row) => String(row.name),
      "SELECT name FROM migrations WHERE name IN ('good', 'bad')",
    );
    expect(names).toEqual(['good']);
  });

  it('under a named lock wait for each other', async () => {
    const order: string[] = [];
    await Promise.all(
      ['a', 'b'].map((name) =>
        db.locked('turn', 5, async () => {
          order.push(`${name} in`);
          await new Promise((resolve) => setTimeout(resolve, 50));
          order.push(`${name} out`);
        }),
      ),
    );
    expect(order).toHaveLength(4);
    expect(order[0]?.[0]).toBe(order[1]?.[0]);
    expect(order[2]?.[0]).toBe(order[3]?.[0]);
  });
});

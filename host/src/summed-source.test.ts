import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { SummedSource } from './summed-source.js';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-summed-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** FIPS 180-2, B.3: a million letters a. */
const MILLION = 1_000_000;
const SUM = 'cdc76e5c9914fb9281a1c7e284d73e67f1809a48a497200e046d39ccc7112cd0';

it('sums the whole file, whatever is read of it, in which order, and at the same time', async () => {
  const path = join(folder, 'a');
  await writeFile(path, 'a'.repeat(MILLION));
  const place = fc.record({ offset: fc.nat(MILLION), length: fc.nat(300_000) });
  await fc.assert(
    fc.asyncProperty(fc.array(place, { maxLength: 8 }), fc.boolean(), async (places, together) => {
      const source = await SummedSource.open(path);
      try {
        const reads = [];
        for (const { offset, length } of places) {
          reads.push(source.read(offset, length));
          if (!together) await reads.at(-1);
        }
        const got = await Promise.all(reads);
        expect(got.map(({ length }) => length)).toEqual(
          places.map(({ offset, length }) => Math.min(length, MILLION - offset)),
        );
        expect(await source.sum()).toBe(SUM);
      } finally {
        await source.close();
      }
    }),
    { numRuns: 60 },
  );
});

it('sums what it has read, and not what lies there afterwards', async () => {
  const path = join(folder, 'changes');
  await writeFile(path, 'a'.repeat(MILLION));
  const source = await SummedSource.open(path);
  await source.read(0, MILLION);
  await writeFile(path, 'b'.repeat(MILLION), { flag: 'r+' });
  expect(await source.sum()).toBe(SUM);
  await source.close();
  const changed = await SummedSource.open(path);
  expect(await changed.sum()).not.toBe(SUM);
  await changed.close();
});

it('lets many files be open at the same time, read by turns', async () => {
  const path = join(folder, 'turns');
  await writeFile(path, 'a'.repeat(MILLION));
  const sources = await Promise.all(Array.from({ length: 40 }, () => SummedSource.open(path)));
  for (let at = 0; at < MILLION; at += 250_000) for (const source of sources) await source.read(at, 250_000);
  // Some are given up before anybody asks.
  await Promise.all(sources.slice(0, 20).map((source) => source.close()));
  const sums = await Promise.all(sources.slice(20).map((source) => source.sum()));
  expect(new Set(sums)).toEqual(new Set([SUM]));
  await Promise.all(sources.slice(20).map((source) => source.close()));
});

import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createFile } from './file-sink.js';
import { FileByteSource } from './file-source.js';

const MIB = 1 << 20;
const all = Buffer.from(Uint32Array.from({ length: 700_001 }, (_, n) => Math.imul(n, 2_654_435_761)).buffer);

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-files-'));
  await writeFile(join(folder, 'all'), all);
});
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('reading a file', () => {
  /** Steps of a reader: on from where it stopped, or from somewhere else. */
  const step = fc.record({
    jump: fc.option(fc.integer({ min: 0, max: all.length + 50 }), { freq: 3 }),
    length: fc.oneof(fc.nat(9000), fc.nat(2 * MIB), fc.constant(MIB)),
    // Into memory that the reader brings.
    brought: fc.boolean(),
  });

  it('gives the bytes that are there, in whatever order and sizes they are asked for', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(step, { maxLength: 12 }), async (steps) => {
        const source = await FileByteSource.open(join(folder, 'all'));
        let at = 0;
        for (const { jump, length, brought } of steps) {
          at = jump ?? at;
          const into = brought ? new Uint8Array(new SharedArrayBuffer(length + 3), 3) : undefined;
          // Two at once, as when a player and a meter share a file.
          const [found, next] = await Promise.all([
            source.read(at, length, into),
            source.read(at + length, length),
          ]);
          if (into) expect([found.buffer, found.byteOffset]).toEqual([into.buffer, 3]);
          expect(Buffer.from(found).equals(all.subarray(at, at + length))).toBe(true);
          expect(Buffer.from(next).equals(all.subarray(at + length, at + 2 * length))).toBe(true);
          at += 2 * length;
        }
        await source.close();
      }),
    );
  });

  it('from many files in turn gives each its own, though only a few are kept ahead of', async () => {
    const sources = await Promise.all(
      Array.from({ length: 9 }, () => FileByteSource.open(join(folder, 'all'))),
    );
    for (let at = 0; at < 3 * 400_000; at += 400_000)
      for (const [i, source] of sources.entries()) {
        const found = Buffer.from(await source.read(at + i, 400_000));
        expect(found.equals(all.subarray(at + i, at + i + 400_000))).toBe(true);
      }
    await Promise.all(sources.map((source) => source.close()));
  });

  it('gives fewer bytes where the file was cut short after it was opened', async () => {
    const path = join(folder, 'cut short');
    await writeFile(path, all);
    const source = await FileByteSource.open(path);
    await source.read(0, 100);
    await writeFile(path, all.subarray(0, 150));
    expect(Buffer.from(await source.read(100, 100)).equals(all.subarray(100, 150))).toBe(true);
    await source.close();
  });

  it('may be let go of while the next bytes are on their way', async () => {
    const source = await FileByteSource.open(join(folder, 'all'));
    await source.read(0, 10);
    await source.read(10, 10);
    await expect(source.close()).resolves.toBeUndefined();
  });
});

describe('writing a file', () => {
  it('stores every byte in order, however it comes', async () => {
    let n = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.oneof(fc.nat(20_000), fc.constant(MIB), fc.nat(MIB * 2)), { maxLength: 8 }),
        async (sizes) => {
          const path = join(folder, `out ${n++}`);
          const sink = await createFile(path);
          let at = 0;
          for (const size of sizes) {
            // The sink may not rely on what becomes of the bytes once it has taken them.
            const piece = Buffer.from(all.subarray(at, at + size));
            await sink.write(piece);
            piece.fill(0);
            at = Math.min(all.length, at + size);
          }
          await sink.close();
          expect((await readFile(path)).equals(all.subarray(0, at))).toBe(true);
          await rm(path);
        },
      ),
      { numRuns: 30 },
    );
  });

  it('never writes over a file', async () => {
    await expect(createFile(join(folder, 'all'))).rejects.toMatchObject({ code: 'EEXIST' });
  });
});

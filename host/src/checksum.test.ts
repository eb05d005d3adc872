import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { crc32Hasher, digestFile } from './checksum.js';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-checksum-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

it('takes the checksums that the standards print', async () => {
  const path = join(folder, 'abc & “d”.txt');
  await writeFile(path, 'abc');
  // RFC 1321 A.5 and FIPS 180-4 (examples): the three letters a, b, c.
  const both = [digestFile(path, 'md5'), digestFile(path, 'sha256')];
  expect(await Promise.all(both)).toEqual([
    '900150983cd24fb0d6963f7d28e17f72',
    'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad',
  ]);
});

it('takes CRC-32 in pieces', () => {
  // The check value of ISO 3309: the digits 1 to 9.
  const hasher = crc32Hasher();
  for (const piece of ['1234', '', '56789']) hasher.update(new TextEncoder().encode(piece));
  expect(hasher.digest()).toBe('cbf43926');
  expect(crc32Hasher().digest()).toBe('00000000');
});

it('says which file it could not read, and goes on with the next', async () => {
  await expect(digestFile(join(folder, 'gone'), 'md5')).rejects.toMatchObject({ code: 'ENOENT' });
  const empty = join(folder, 'empty');
  await writeFile(empty, '');
  expect(await digestFile(empty, 'md5')).toBe('d41d8cd98f00b204e9800998ecf8427e');
});

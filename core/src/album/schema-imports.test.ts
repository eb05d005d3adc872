import { readFile } from 'node:fs/promises';
import { dirname, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

const SOURCES = resolve(dirname(fileURLToPath(import.meta.url)), '..');

/** Every module of the core that one loads, itself included; imports of types load nothing. */
async function loadedBy(file: string, seen = new Set<string>()): Promise<ReadonlySet<string>> {
  if (seen.has(file)) return seen;
  seen.add(file);
  const text = await readFile(file, 'utf8');
  for (const [, clause = '', path = ''] of text.matchAll(
    /^(?:import|export) ([^;]*?) from '(\.[^']*)\.js';/gms,
  )) {
    const values = clause
      .replace(/^\{|\}$/g, '')
      .split(',')
      .filter((one) => one.trim() !== '');
    const types = clause.startsWith('type ') || values.every((one) => one.trim().startsWith('type '));
    if (!types) await loadedBy(resolve(dirname(file), `${path}.ts`), seen);
  }
  return seen;
}

it('the schema of an album loads no WebAssembly and nothing that measures or renders', async () => {
  const names = async (file: string): Promise<string[]> =>
    [...(await loadedBy(resolve(SOURCES, file)))].map((path) => relative(SOURCES, path));
  const computing = (name: string): boolean => /^(kernels|measure|render)\//.test(name);
  for (const file of ['album/album.ts', 'album/file.ts', 'album/deliverable.ts', 'album/stored.ts'])
    expect((await names(file)).filter(computing), file).toEqual([]);
  // The walk does see such imports where they are.
  expect(await names('render/programme.ts')).toContain('kernels/kernels.ts');
});

import { dirname, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { expect, it } from 'vitest';

const CORE = resolve(dirname(fileURLToPath(import.meta.url)), '../../..');

/** Modules of the core whose code is in the bundle of one of them, relative to `core/`. */
async function bundled(entry: string): Promise<string[]> {
  const { metafile } = await build({
    ...{ absWorkingDir: CORE, entryPoints: [entry], bundle: true, write: false, metafile: true },
    ...{ format: 'esm', treeShaking: true, external: ['zod'] },
  });
  const inputs = Object.values(metafile.outputs).flatMap((output) => Object.entries(output.inputs));
  return inputs.flatMap(([path, { bytesInOutput }]) => (bytesInOutput > 0 ? [path] : []));
}

it('the schema of an album brings no WebAssembly and nothing that measures or renders', async () => {
  const computing = (path: string): boolean => /^(audio\/src\/(kernels|measure)|render)\//.test(path);
  for (const file of ['model/album.ts', 'file/file.ts', 'model/deliverable.ts', 'file/stored.ts'])
    expect((await bundled(`album/src/${file}`)).filter(computing), file).toEqual([]);
  // Such modules are seen where they are.
  expect(await bundled('render/src/programme.ts')).toContain('audio/src/kernels/kernels.ts');
});

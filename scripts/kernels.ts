// Compiles the SIMD kernels of the core. With --check: 1 when what lies there was compiled from another source.
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import asc from 'assemblyscript/asc';
import { ROOT } from './build.mjs';

const SOURCES = join(ROOT, 'core/audio/kernels');
const TARGET = join(ROOT, 'core/audio/src/kernels/wasm.ts');

const sources: Record<string, string> = {};
for (const name of (await readdir(SOURCES)).filter((each) => each.endsWith('.ts')).sort())
  sources[name] = await readFile(join(SOURCES, name), 'utf8');

const { error, binary, stderr } = await asc.compileString(sources, {
  optimizeLevel: 3,
  runtime: 'stub',
  noAssert: true,
  enable: ['simd'],
  initialMemory: 1,
});
if (error || !binary) throw new Error(String(stderr), { cause: error });
const text = `/** Compiled from core/audio/kernels by \`npm run kernels\`; not to be edited. */
export const KERNELS_WASM =
  '${Buffer.from(binary).toString('base64')}';
`;
if (process.argv.includes('--check')) {
  if ((await readFile(TARGET, 'utf8')) !== text) {
    console.error('core/audio/src/kernels/wasm.ts is out of date: npm run kernels');
    process.exitCode = 1;
  }
} else await writeFile(TARGET, text);

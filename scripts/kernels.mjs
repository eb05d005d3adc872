// Compiles the SIMD kernels of the core. With --check: 1 when what lies there was compiled from another source.
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import asc from 'assemblyscript/asc';
import { ROOT } from './build.mjs';

const SOURCE = join(ROOT, 'core/kernels/kernels.ts');
const TARGET = join(ROOT, 'core/src/dsp/kernels-wasm.ts');

const { error, binary, stderr } = await asc.compileString(
  { 'kernels.ts': await readFile(SOURCE, 'utf8') },
  { optimizeLevel: 3, runtime: 'stub', noAssert: true, enable: ['simd'], initialMemory: 1 },
);
if (error) throw new Error(String(stderr), { cause: error });
const text = `/** Compiled from core/kernels by \`npm run kernels\`; not to be edited. */
export const KERNELS_WASM =
  '${Buffer.from(binary).toString('base64')}';
`;
if (process.argv.includes('--check')) {
  if ((await readFile(TARGET, 'utf8')) !== text) {
    console.error('core/src/dsp/kernels-wasm.ts is out of date: npm run kernels');
    process.exitCode = 1;
  }
} else await writeFile(TARGET, text);

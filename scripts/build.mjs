// Builds targets whose sources changed; each keeps a stamp of the sources it was built from. Plain JavaScript, since the command line
// uses it before anything else is loaded.
import { createHash } from 'node:crypto';
import { readdirSync, statSync } from 'node:fs';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

export const ROOT = resolve(dirname(fileURLToPath(import.meta.url)), '..');
const DIST = join(ROOT, 'dist');

/** Node programs: entry point, and the parts whose sources they are built from. */
const PROGRAMS = {
  cli: { entry: 'cli/src/main.ts', parts: ['core', 'host', 'cli'] },
  server: { entry: 'server/src/main.ts', parts: ['core', 'api', 'host', 'server'] },
  'compute-thread': { entry: 'server/src/compute-thread.ts', parts: ['core', 'api', 'host', 'server'] },
  keeper: { entry: 'server/src/maintenance.ts', parts: ['core', 'api', 'host', 'server'] },
  worker: { entry: 'server/src/worker.ts', parts: ['core', 'api', 'host', 'server'] },
  'render-thread': { entry: 'host/src/render-thread.ts', parts: ['core', 'host'] },
  'checksum-thread': { entry: 'host/src/checksum-thread.mjs', parts: ['host'] },
  standins: { entry: 'standins/src/main.ts', parts: ['standins', 'docs'] },
  demo: { entry: 'demo/src/main.ts', parts: ['core', 'api', 'host', 'demo'] },
  schema: { entry: 'scripts/schema.ts', parts: ['core'] },
  treat: { entry: 'scripts/treat-file.ts', parts: ['core', 'host', 'scripts'] },
  measure: { entry: 'scripts/measure-file.ts', parts: ['core', 'host', 'scripts'] },
};
/** Programs of threads that others start, by the program that starts them: they are built together. */
const THREADS = {
  server: ['compute-thread', 'checksum-thread'],
  worker: ['render-thread', 'checksum-thread'],
  maintenance: ['checksum-thread'],
  cli: ['render-thread', 'checksum-thread'],
};
/** What is taken into a program. Of zod little is used, and all of it takes a tenth of a second to read. */
const INSIDE = /^(@oiseau\/|zod($|\/))/;
export const TARGETS = [...Object.keys(PROGRAMS), 'web'];

/** Names, sizes and times of all files below a folder, a line each. Synchronous: the caller waits for nothing else. */
function listing(path) {
  let lines = '';
  const entries = readdirSync(path, { withFileTypes: true });
  for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const child = join(path, entry.name);
    if (entry.isDirectory()) lines += entry.name === 'node_modules' ? '' : listing(child);
    else {
      const { size, mtimeMs } = statSync(child);
      lines += `${child}\0${size}\0${mtimeMs}\n`;
    }
  }
  return lines;
}

/** All files below some folders, and what they are built by and with, as one digest. */
async function stampOf(folders) {
  const hash = createHash('sha256');
  for (const folder of folders) hash.update(listing(join(ROOT, folder)));
  hash.update(await readFile(join(ROOT, 'package-lock.json')));
  hash.update(await readFile(fileURLToPath(import.meta.url)));
  return hash.digest('hex');
}

async function buildProgram(name, entry) {
  const { build } = await import('esbuild');
  await build({
    entryPoints: [join(ROOT, entry)],
    outfile: join(DIST, `${name}.mjs`),
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    sourcemap: true,
    // Less to read at each start; names stay, for stack traces.
    minifySyntax: true,
    minifyWhitespace: true,
    logLevel: 'error',
    plugins: [
      {
        name: 'packages-stay-outside',
        setup: (b) =>
          b.onResolve({ filter: /^[^./]/ }, ({ path }) =>
            INSIDE.test(path) || path.includes(ROOT) ? undefined : { path, external: true },
          ),
      },
    ],
  });
}

async function buildWeb() {
  const { build } = await import('vite');
  const { NODE_ENV } = process.env;
  // The build is always the product's, even from a test runner with NODE_ENV=test; the variable is restored for later programs.
  process.env.NODE_ENV = 'production';
  await build({ root: join(ROOT, 'web'), configFile: join(ROOT, 'web/vite.config.ts'), logLevel: 'error' });
  if (NODE_ENV === undefined) delete process.env.NODE_ENV;
  else process.env.NODE_ENV = NODE_ENV;
}

/** Builds those of the targets whose sources changed; `tell` gets a line for each that is built. */
export async function ensureBuilt(targets = TARGETS, tell = () => undefined) {
  await mkdir(join(DIST, 'stamps'), { recursive: true });
  const all = new Set(targets.flatMap((name) => [name, ...(THREADS[name] ?? [])]));
  for (const name of all) {
    const parts = name === 'web' ? ['core', 'api', 'web'] : PROGRAMS[name].parts;
    const stampFile = join(DIST, 'stamps', name);
    const stamp = await stampOf(parts);
    if ((await readFile(stampFile, 'utf8').catch(() => '')) === stamp) continue;
    tell(`Building ${name} …`);
    if (name === 'web') await buildWeb();
    else await buildProgram(name, PROGRAMS[name].entry);
    await writeFile(stampFile, stamp);
  }
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) {
  const at = process.argv.indexOf('--only');
  await ensureBuilt(at > 0 ? process.argv.slice(at + 1) : TARGETS, (line) => console.log(line));
}

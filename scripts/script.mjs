// Runs a script of this folder by its name: node scripts/script.mjs start. Plain JavaScript, since it comes before any package.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const FOLDER = dirname(fileURLToPath(import.meta.url));
const ROOT = resolve(FOLDER, '..');

/** @returns the reason why this Node.js can't run Oiseau; undefined: it can */
function tooOld() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major > 20 || (major === 20 && minor >= 19)) return undefined;
  return `Node.js ${process.versions.node} is too old; 20.19 or later is needed.`;
}

/** Runs `npm ci` when the packages are not those of the lock file. @returns the reason why that failed; undefined: it did not */
function installPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  const stampFile = join(ROOT, 'node_modules', '.oiseau-lock');
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === lock) return undefined;
  console.log('Installing packages with npm ci …');
  const { status, stderr } = spawnSync('npm', ['ci', '--no-fund', '--no-audit'], {
    cwd: ROOT,
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  if (status !== 0) {
    const why = String(stderr)
      .split('\n')
      .find((line) => /^npm (error|ERR!) (?!code )\S/.test(line));
    return `npm ci failed: ${why?.replace(/^npm \S+ /, '') ?? `status ${status}`}`;
  }
  writeFileSync(stampFile, lock);
  return undefined;
}

const [, , name = '', ...args] = process.argv;
const path = [`${name}.ts`, `${name}.mjs`].map((file) => join(FOLDER, file)).find(existsSync);
const problem =
  tooOld() ?? (path === undefined ? `There is no script “${name}”.` : undefined) ?? installPackages();
if (problem === undefined) {
  const { register } = await import('tsx/esm/api');
  register();
  process.argv = [process.argv[0], path, ...args];
  await import(pathToFileURL(path).href);
} else {
  console.error(problem);
  process.exitCode = 1;
}

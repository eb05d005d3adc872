// What the application needs of the operating system, and how to get it.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { delimiter, join } from 'node:path';
import { ROOT } from './build.mjs';

/** A problem with one clear sentence: printed as it is, without a stack. */
export class Plain extends Error {}

/** The path of a program, looking also where Debian keeps servers; undefined when it is not installed. */
export function findProgram(name) {
  const folders = [...(process.env.PATH ?? '').split(delimiter), '/usr/sbin', '/usr/local/sbin', '/usr/bin'];
  return folders.map((folder) => join(folder, name)).find((path) => existsSync(path));
}

/**
 * Programs and the Debian packages they come from. `mariadb-server-core` is the server of `mariadb-server` without
 * the service: installing it starts nothing.
 */
export const NEEDED = {
  mariadbd: 'mariadb-server-core',
  'mariadb-install-db': 'mariadb-server-core',
  my_print_defaults: 'mariadb-client-core',
  ffmpeg: 'ffmpeg',
};
export const NEEDED_FOR_TESTS = { ...NEEDED, chromium: 'chromium' };

/** Installs missing Debian packages, saying so. @throws Plain when that can't be done here */
export function installMissing(needed) {
  const missing = [
    ...new Set(
      Object.entries(needed)
        .filter(([program]) => !findProgram(program))
        .map(([, name]) => name),
    ),
  ];
  if (missing.length === 0) return;
  const advice = `Please install ${missing.join(' and ')}: sudo apt-get install --no-install-recommends ${missing.join(' ')}`;
  if (!findProgram('apt-get'))
    throw new Plain(`${missing.join(' and ')} is missing and this system has no apt-get. ${advice}`);
  const root = process.getuid?.() === 0;
  const sudo = root ? [] : ['sudo', '-n'];
  if (!root && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status !== 0) throw new Plain(advice);
  console.log(`Installing ${missing.join(', ')} with apt-get …`);
  const run = (...args) => {
    const [program, ...rest] = [...sudo, 'apt-get', ...args];
    return spawnSync(program, rest, {
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
  };
  run('update', '-qq');
  const { status, stderr } = run('install', '-y', '-qq', '--no-install-recommends', ...missing);
  if (status !== 0)
    throw new Plain(
      `apt-get could not install them (${String(stderr).trim().split('\n').at(-1)}). ${advice}`,
    );
}

/** Runs `npm ci` when the packages are not those of the lock file. */
export async function installPackages() {
  const lock = createHash('sha256')
    .update(await readFile(join(ROOT, 'package-lock.json')))
    .digest('hex');
  const stampFile = join(ROOT, 'node_modules', '.oiseau-lock');
  if ((await readFile(stampFile, 'utf8').catch(() => '')) === lock) return;
  console.log('Installing packages with npm ci …');
  const { status, stderr } = spawnSync('npm', ['ci', '--no-fund', '--no-audit'], {
    cwd: ROOT,
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  if (status !== 0) {
    const why = String(stderr)
      .split('\n')
      .find((line) => /^npm (error|ERR!) (?!code )\S/.test(line));
    throw new Plain(`npm ci failed: ${why?.replace(/^npm \S+ /, '') ?? `status ${status}`}`);
  }
  await writeFile(stampFile, lock);
}

/** Whether a port of the loopback address can be had. */
export function isFree(port) {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
}

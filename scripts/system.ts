// What the application needs of the operating system, and how to get it.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { createServer } from 'node:net';
import { delimiter, join } from 'node:path';

/** A problem with one clear sentence: printed as it is, without a stack. */
export class Plain extends Error {}

/** The message of whatever was thrown. */
export const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** The code of an error of the system (`ENOENT`); undefined for any other. */
export const codeOf = (error: unknown): string | undefined =>
  error instanceof Error && 'code' in error ? String(error.code) : undefined;

/** The path of a program, looking also where Debian keeps servers; undefined when it is not installed. */
export function findProgram(name: string): string | undefined {
  const folders = [...(process.env.PATH ?? '').split(delimiter), '/usr/sbin', '/usr/local/sbin', '/usr/bin'];
  return folders.map((folder) => join(folder, name)).find((path) => existsSync(path));
}

/**
 * Programs and the Debian packages they come from. `mariadb-server-core` is the server of `mariadb-server` without
 * the service: installing it starts nothing.
 */
export const NEEDED: Readonly<Record<string, string>> = {
  mariadbd: 'mariadb-server-core',
  'mariadb-install-db': 'mariadb-server-core',
  my_print_defaults: 'mariadb-client-core',
  ffmpeg: 'ffmpeg',
};
export const NEEDED_FOR_TESTS: Readonly<Record<string, string>> = { ...NEEDED, chromium: 'chromium' };

/** Installs missing Debian packages, saying so. @throws Plain when that can't be done here */
export function installMissing(needed: Readonly<Record<string, string>>): void {
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
  const run = (...args: string[]) => {
    const [program = '', ...rest] = [...sudo, 'apt-get', ...args];
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

/** Whether a port of the loopback address can be had. */
export function isFree(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
}

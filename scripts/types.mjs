// npm run types: the type check of every part, two at a time. `PROJECTS` is the one list of them, for npm test as well.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { ROOT } from './build.mjs';

/** Folders with a tsconfig.json; `.` holds the tests that lie outside of the parts' own projects. */
export const PROJECTS = ['core', 'api', 'host', 'server', 'web', 'cli', 'demo', 'standins', '.'];

async function check(project) {
  const child = spawn('npx', ['--no-install', 'tsc', '-p', project], {
    cwd: ROOT,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  const [status] = await once(child, 'close');
  return status === 0;
}

async function main() {
  const waiting = [...PROJECTS];
  let ok = true;
  const work = async () => {
    for (let next = waiting.shift(); next; next = waiting.shift()) ok = (await check(next)) && ok;
  };
  await Promise.all(Array.from({ length: availableParallelism() }, work));
  process.exitCode = ok ? 0 : 1;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await main();

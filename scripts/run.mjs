// The running application: MariaDB, the web server, the workers. Used by start, by the tests and by the bench.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { chmod, mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { ROOT } from './build.mjs';
import { startMariaDb } from './mariadb.mjs';
import { isFree, Plain } from './system.mjs';

const alive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

/** Where a server that listens at `host` is reached from this machine. */
function reachedAt(host = '127.0.0.1') {
  if (host === '0.0.0.0' || host === '::') return '127.0.0.1';
  return host.includes(':') ? `[${host}]` : host;
}

/** Marks the data folder as ours while we run. @throws Plain when another start uses it */
async function claimFolder(data) {
  const path = join(data, 'start.pid');
  const other = Number(await readFile(path, 'utf8').catch(() => '0'));
  if (other > 0 && other !== process.pid && alive(other)) {
    const command = await readFile(`/proc/${other}/cmdline`, 'utf8').catch(() => '');
    if (command.includes('node')) throw new Plain(`Oiseau already runs from ${data} (process ${other}).`);
  }
  await writeFile(path, String(process.pid));
  return path;
}

/** Ends a MariaDB that a killed start has left behind on this very data folder. */
async function clearOrphan(data) {
  const folder = join(data, 'database');
  const pid = Number(await readFile(join(folder, 'mariadb.pid'), 'utf8').catch(() => '0'));
  if (!(pid > 0) || !alive(pid)) return;
  const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
  if (!command.split('\0').includes(`--datadir=${join(folder, 'mysql')}`)) return;
  process.kill(pid, 'SIGTERM');
  for (let i = 0; i < 200 && alive(pid); i++) await new Promise((resolve) => setTimeout(resolve, 50));
}

function startProgram(name, env) {
  const child = spawn(process.execPath, ['--enable-source-maps', join(ROOT, 'dist', `${name}.mjs`)], {
    env,
    detached: true,
    stdio: ['ignore', 'inherit', 'pipe', 'ipc'],
  });
  let words = '';
  child.stderr.on('data', (text) => (words = (words + text).slice(-4000)));
  const exited = once(child, 'exit');
  return { name, child, exited, words: () => words };
}

/**
 * Starts everything on a data folder. Children live in process groups of their own, so that Ctrl-C reaches only this
 * process, which ends them in order; should it be killed, they notice and end themselves.
 * @returns {{ url: string, key: string, keyFile: string, environment: object, stop(): Promise<void>, failed: Promise<never> }}
 */
export async function runApplication({ data, port, workers, log = 'error' }) {
  if (port !== 0 && !(await isFree(port)))
    throw new Plain(`Port ${port} is in use; choose another with OISEAU_PORT=4681 npm start.`);
  // Other people of this machine have no business in here.
  process.umask(0o077);
  await mkdir(data, { recursive: true });
  await chmod(data, 0o700);
  const claimed = await claimFolder(data);
  const running = [];
  let database;
  let stopping = false;
  const stop = async () => {
    stopping = true;
    for (const { child } of running) if (child.exitCode === null) child.kill('SIGTERM');
    await Promise.all(running.map(({ exited }) => exited));
    await database?.stop();
    await rm(claimed, { force: true });
  };
  try {
    await clearOrphan(data);
    database = await startMariaDb(join(data, 'database')).catch((error) => {
      throw new Plain(error.message);
    });
    const env = {
      ...process.env,
      OISEAU_DATA: data,
      OISEAU_PORT: String(port),
      OISEAU_DB_SOCKET: database.socket,
      OISEAU_DB_SECRET: database.secretFile,
      OISEAU_WEB: join(ROOT, 'dist/web'),
      OISEAU_LOG: log,
    };
    const server = startProgram('server', env);
    running.push(server);
    const ready = await Promise.race([once(server.child, 'message'), server.exited.then(() => undefined)]);
    if (!ready) {
      const reason = /Error: (.*)/.exec(server.words())?.[1] ?? server.words().trim().split('\n').at(-1);
      throw new Plain(`The server did not start: ${reason}`);
    }
    for (let i = 0; i < workers; i++) running.push(startProgram('worker', env));
    const failed = Promise.race([
      ...running.map((program) => program.exited.then(() => program)),
      once(database.process, 'exit').then(() => ({ name: 'MariaDB', words: () => '' })),
    ]).then((program) => {
      if (stopping) return new Promise(() => undefined);
      throw new Plain(
        `${program.name} ended unexpectedly. ${program.words().trim().split('\n').slice(-3).join(' ')}`,
      );
    });
    failed.catch(() => undefined);
    const keyFile = join(data, 'access-key');
    const key = (await readFile(keyFile, 'utf8')).trim();
    return {
      url: `http://${reachedAt(process.env.OISEAU_HOST)}:${ready[0].port}`,
      key,
      keyFile,
      environment: env,
      stop,
      failed,
    };
  } catch (error) {
    await stop();
    throw error;
  }
}

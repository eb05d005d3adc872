// The running application: MariaDB, the web server, the workers. Used by start, by the tests and by the bench.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import {
  chmod,
  link,
  mkdir,
  readdir,
  readFile,
  realpath,
  rename,
  rm,
  stat,
  statfs,
  writeFile,
} from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { ROOT } from './build.mjs';
import { runningMariaDb, startMariaDb, wayOut } from './mariadb.mjs';
import { lastWords, supervise } from './supervise.mjs';
import { isFree, Plain } from './system.mjs';

const DATABASE = 'The database';
const STANDINS = 'The simulation of recipients';

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

/** When a process was started, in ticks since the machine was [proc(5), field 22 of stat]; the second of its number is never as old. */
async function beginningOf(pid) {
  const stat = await readFile(`/proc/${pid}/stat`, 'utf8').catch(() => '');
  return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? '';
}

/** The process that runs from a data folder; undefined when none does. */
async function ownerOf(data) {
  const path = join(data, 'start.pid');
  const [pid, begun, folder] = (await readFile(path, 'utf8').catch(() => '')).split('\n');
  const other = Number(pid);
  // The same number may be another process by now, and a folder that was copied brings the mark of the one that it was copied from.
  const same =
    begun === undefined || (begun === (await beginningOf(other)) && folder === (await realpath(data)));
  if (!(other > 0) || other === process.pid || !same || !alive(other)) return undefined;
  const command = await readFile(`/proc/${other}/cmdline`, 'utf8').catch(() => '');
  return command.includes('node') ? other : undefined;
}

/**
 * Marks the data folder as ours while we run. Of two that come at the same moment one gets it: the mark is made whole beside its place and
 * linked there, which fails where there is one.
 * @throws Plain when another start uses it
 */
async function claimFolder(data) {
  const path = join(data, 'start.pid');
  const own = `${path}.${process.pid}`;
  await writeFile(own, [process.pid, await beginningOf(process.pid), await realpath(data)].join('\n'));
  try {
    for (let tries = 0; tries < 5; tries++) {
      try {
        await link(own, path);
        return path;
      } catch (error) {
        if (error.code !== 'EEXIST') throw error;
      }
      const other = await ownerOf(data);
      if (other !== undefined) throw new Plain(`Oiseau already runs from ${data} (process ${other}).`);
      await clearStale(path);
    }
  } finally {
    await rm(own, { force: true });
  }
  throw new Plain(`Another start uses ${data} at this moment. Try again.`);
}

/** Takes away the mark of a start that is gone, unless somebody else has just made theirs. */
async function clearStale(path) {
  const stale = await stat(path).catch(() => null);
  if (!stale) return;
  const aside = `${path}.stale-${process.pid}`;
  await rename(path, aside).catch(() => undefined);
  const moved = await stat(aside).catch(() => null);
  // It was another's, made between the two looks: it gets its place back.
  if (moved && moved.ino !== stale.ino) await link(aside, path).catch(() => undefined);
  await rm(aside, { force: true });
}

/** Bytes that a database needs to begin with. */
const LEAST_ROOM = 300e6;

/** Makes sure of a data folder that can be written to and has room. @throws Plain with what helps */
async function demandFolder(data) {
  const elsewhere = 'OISEAU_DATA=FOLDER npm start takes another';
  try {
    await mkdir(data, { recursive: true });
    await chmod(data, 0o700);
    const probe = join(data, `.probe-${process.pid}`);
    await writeFile(probe, '');
    await rm(probe);
  } catch (error) {
    const why = { EROFS: 'its disk is read-only', ENOSPC: 'its disk is full', ENOTDIR: 'it is no folder' }[
      error.code
    ];
    throw new Plain(
      `The data folder ${data} can’t be written to: ${why ?? `it is not yours (${error.code})`}. ${elsewhere}.`,
    );
  }
  const { bavail, bsize } = await statfs(data);
  if (bavail * bsize < LEAST_ROOM)
    throw new Plain(
      `The disk of the data folder ${data} has ${Math.round((bavail * bsize) / 1e6)} MB left, and ${LEAST_ROOM / 1e6} MB are needed to begin with. Make room there, or ${elsewhere}.`,
    );
}

/** What programs of ours are told of a data folder and its database. */
const environmentOf = async (data, { socket, secretFile } = {}) => ({
  ...process.env,
  OISEAU_DATA: data,
  OISEAU_WAY_OUT: await wayOut(join(data, 'database')),
  ...(socket && { OISEAU_DB_SOCKET: socket, OISEAU_DB_SECRET: secretFile }),
});

/** Whether the database is somebody else's to run: `OISEAU_DATABASE` says where it is. */
const isElsewhere = () => process.env.OISEAU_DATABASE !== undefined;

/**
 * Does something with the database of a data folder, whether the application runs from it or not: then the database runs for so long.
 * @param work gets the environment for programs of ours
 */
export async function withDatabaseOf(data, work) {
  if (isElsewhere()) return work(await environmentOf(data));
  const folder = join(data, 'database');
  if ((await ownerOf(data)) !== undefined)
    return work(await environmentOf(data, await runningMariaDb(folder)));
  process.umask(0o077);
  await demandFolder(data);
  const claimed = await claimFolder(data);
  try {
    await clearOrphan(data);
    const database = await startMariaDb(folder);
    try {
      return await work(await environmentOf(data, database));
    } finally {
      await database.stop();
    }
  } finally {
    await rm(claimed, { force: true });
  }
}

/** Ends a MariaDB that a killed start has left behind on this very data folder. */
async function clearOrphan(data) {
  const folder = join(data, 'database');
  // One that was still beginning has not written its number yet: it is told by what it was started with.
  for (const pid of (await readdir('/proc')).filter((name) => /^\d+$/.test(name)).map(Number)) {
    const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
    if (!command.split('\0').includes(`--datadir=${join(folder, 'mysql')}`)) continue;
    // It may be late to listen; what it had promised lies on the disk, should it never.
    for (let tries = 0; tries < 40 && alive(pid); tries++) {
      process.kill(pid, tries < 30 ? 'SIGTERM' : 'SIGKILL');
      for (let i = 0; i < 10 && alive(pid); i++) await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }
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
  return { child, exited, words: () => words };
}

/** Workers that run here: one for each core, four at the most, or what OISEAU_WORKERS says; none where others work. @throws Plain */
export function workersWanted() {
  const { OISEAU_WORKERS: said } = process.env;
  if (said === undefined) return Math.max(1, Math.min(4, availableParallelism()));
  if (!/^\d{1,2}$/.test(said)) throw new Plain(`OISEAU_WORKERS=${said} is no number of workers.`);
  return Number(said);
}

/** Workers alone, for a database and a media store that are elsewhere. @returns the way to end them, and what rejects when one has died too often */
export async function runWorkers(data, count, tell = (words) => console.error(words)) {
  process.umask(0o077);
  await mkdir(data, { recursive: true });
  const env = await environmentOf(data);
  const programs = [];
  const kept = Array.from({ length: count }, (_, i) =>
    supervise(
      'A worker',
      async () => (programs[i] = startProgram('worker', { ...env, OISEAU_ROLE: 'worker' })),
      tell,
    ),
  );
  await Promise.all(kept.map(({ started }) => started));
  return {
    failed: Promise.race(kept.map(({ gaveUp }) => gaveUp)),
    async stop() {
      for (const supervised of kept) supervised.stop();
      await Promise.all(programs.map(endOf));
    },
  };
}

/** Starts the web server. @returns it, and the port that it listens at. @throws Plain with the reason why it did not start */
async function startServer(env) {
  const server = startProgram('server', env);
  const ready = await Promise.race([once(server.child, 'message'), server.exited.then(() => undefined)]);
  if (ready) return { ...server, port: ready[0].port };
  const reason = lastWords(server.words());
  // As the database's driver says that a table is damaged or gone.
  const isDamaged = /errno: (?:1030|1034|1035|1194|1195|1712|1812|1877|1932)\b/.test(server.words());
  throw new Plain(
    isDamaged
      ? `The server did not start: a table of the database is damaged (${reason}). ${env.OISEAU_WAY_OUT}`
      : `The server did not start: ${reason}`,
  );
}

/** Starts the stand-ins for receivers. @returns them, and the file that tells where they listen. @throws Plain */
async function startStandins(env) {
  const standins = startProgram('standins', env);
  const ready = await Promise.race([once(standins.child, 'message'), standins.exited.then(() => undefined)]);
  if (ready) return { ...standins, list: ready[0].list };
  const reason = lastWords(standins.words());
  throw new Plain(`The simulated recipients did not start: ${reason}`);
}

/**
 * The application on a data folder. Children live in process groups of their own, so that Ctrl-C reaches only this process, which ends them
 * in order; should it be killed, they notice and end themselves. What dies is started again.
 *
 * `stop` may be called at any time, while it starts as well.
 */
export class Application {
  #stopping = false;
  #claimed;
  /** The database, the server and the workers: { name, supervised, stop() }, in the order in which they were started. */
  #kept = [];
  #tell;

  /** @param tell gets a sentence when something has died and is started again */
  constructor(tell = (words) => console.error(words)) {
    this.#tell = tell;
  }

  /** @returns {Promise<{ url: string, key: string, keyFile: string, environment: object, failed: Promise<never> }>} `failed` rejects when something has died too often */
  async start({ data, port, workers, throwaway }) {
    if (port !== 0 && !(await isFree(port)))
      throw new Plain(`Port ${port} is in use; choose another with OISEAU_PORT=4681 npm start.`);
    // Other people of this machine have no business in here.
    process.umask(0o077);
    await demandFolder(data);
    this.#claimed = await claimFolder(data);
    let database;
    if (!isElsewhere()) {
      await clearOrphan(data);
      await this.#keep(DATABASE, async (begun) => {
        database = await startMariaDb(join(data, 'database'), {
          room: database?.room,
          throwaway,
          onSpawn: (stop) => begun({ stop }),
        }).catch((error) => {
          throw new Plain(error.message);
        });
        const help = await wayOut(join(data, 'database'));
        return {
          child: database.process,
          exited: database.exited,
          words: (givenUp) => (givenUp ? help : ''),
          stop: database.stop,
        };
      });
    }
    const env = {
      ...(await environmentOf(data, database)),
      OISEAU_PORT: String(port),
      OISEAU_WEB: join(ROOT, 'dist/web'),
    };
    delete env.OISEAU_STANDINS_TROUBLE;
    if (process.env.OISEAU_STANDINS !== 'off')
      await this.#keep(STANDINS, async () => {
        const { list, ...standins } = await startStandins(env);
        env.OISEAU_STANDINS = list;
        return standins;
      }).catch((error) => {
        // A simulation stops no start: health says that it is missing.
        if (this.#stopping) throw error;
        delete env.OISEAU_STANDINS;
        env.OISEAU_STANDINS_TROUBLE = error.message;
        this.#tell(error.message);
      });
    else delete env.OISEAU_STANDINS;
    await this.#keep('The server', async () => {
      const server = await startServer(env);
      // People have its address: started again it listens there.
      env.OISEAU_PORT = String(server.port);
      return server;
    });
    for (let i = 0; i < workers; i++)
      await this.#keep('A worker', async () => startProgram('worker', { ...env, OISEAU_ROLE: 'worker' }));
    await this.#keep('The courier', async () => startProgram('worker', { ...env, OISEAU_ROLE: 'courier' }));
    // What may die too often without ending everything: health says that it does not answer.
    const needed = this.#kept.filter(({ name }) => name !== STANDINS);
    const failed = Promise.race(needed.map(({ supervised }) => supervised.gaveUp)).catch((error) => {
      throw new Plain(error.message);
    });
    failed.catch(() => undefined);
    const keyFile = join(data, 'access-key');
    const key = (await readFile(keyFile, 'utf8')).trim();
    const url = `http://${reachedAt(process.env.OISEAU_HOST)}:${env.OISEAU_PORT}`;
    return { url, key, keyFile, environment: env, failed };
  }

  /**
   * Starts a program and keeps it running; one that is started while everything is stopped ends at once.
   * @param start may tell of a program that is there and not ready yet, so that it can be ended
   */
  async #keep(name, start) {
    if (this.#stopping) throw new Plain('Stopped while it was starting.');
    let program;
    const begin = async () => {
      program = await start((begun) => (program = begun));
      if (this.#stopping) await endOf(program);
      return program;
    };
    const supervised = supervise(name, begin, (words) => this.#stopping || this.#tell(words));
    this.#kept.push({ name, supervised, stop: async () => program && endOf(program) });
    await supervised.started;
  }

  /** Starts everything but the database again, for programs that were built anew. */
  async restart() {
    const programs = this.#kept.filter(({ name }) => name !== DATABASE);
    await Promise.all(programs.map(({ supervised, stop }) => supervised.restart(stop)));
  }

  /** Ends everything, the server and the workers before the database. */
  async stop() {
    this.#stopping = true;
    for (const { supervised } of this.#kept) supervised.stop();
    const isDatabase = ({ name }) => name === DATABASE;
    await Promise.all(this.#kept.filter((kept) => !isDatabase(kept)).map((program) => program.stop()));
    await this.#kept.find(isDatabase)?.stop();
    if (this.#claimed) await rm(this.#claimed, { force: true });
  }
}

/** Ends a program and waits for its end. */
async function endOf({ child, exited, stop }) {
  if (stop) return stop();
  if (child.exitCode === null && child.signalCode === null) child.kill('SIGTERM');
  await exited;
}

/** The application, started: for tests and the bench. */
export async function runApplication(options) {
  const application = new Application();
  try {
    const started = await application.start(options);
    return { ...started, stop: () => application.stop() };
  } catch (error) {
    await application.stop();
    throw error;
  }
}

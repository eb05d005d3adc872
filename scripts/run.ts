// The running application: MariaDB, the web server, the workers. Used by start, by the tests and by the bench.
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdir, readdir, readFile, rm } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { ROOT } from './build.mjs';
import { alive, claimFolder, demandFolder, ownerOf } from './data-folder.js';
import { runningMariaDb, startMariaDb, wayOut, type DatabasePlace, type MariaDb } from './mariadb.js';
import { lastWords, supervise, type Running, type Supervised } from './supervise.js';
import { isFree, messageOf, Plain } from './system.js';

const DATABASE = 'The database';
const STANDINS = 'The simulated recipients program';

type Environment = NodeJS.ProcessEnv;

/** Where a server that listens at `host` is reached from this machine. */
function reachedAt(host = '127.0.0.1') {
  if (host === '0.0.0.0' || host === '::') return '127.0.0.1';
  return host.includes(':') ? `[${host}]` : host;
}

/** What programs of ours are told of a data folder and its database. */
const environmentOf = async (data: string, database?: DatabasePlace): Promise<Environment> => ({
  ...process.env,
  OISEAU_DATA: data,
  OISEAU_WAY_OUT: await wayOut(join(data, 'database')),
  ...(database && { OISEAU_DB_SOCKET: database.socket, OISEAU_DB_SECRET: database.secretFile }),
});

/** Whether the database is external: `OISEAU_DATABASE` is its address. */
const isElsewhere = (): boolean => process.env.OISEAU_DATABASE !== undefined;

/**
 * Does something with the database of a data folder, whether the application runs from it or not: then the database runs for so long.
 * @param work gets the environment for programs of ours
 */
export async function withDatabaseOf<T>(
  data: string,
  work: (env: Environment) => T | Promise<T>,
): Promise<T> {
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
async function clearOrphan(data: string): Promise<void> {
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

interface Program extends Running {
  readonly child: ChildProcess;
}

function startProgram(name: string, env: Environment): Program {
  const child = spawn(process.execPath, ['--enable-source-maps', join(ROOT, 'dist', `${name}.mjs`)], {
    env,
    detached: true,
    stdio: ['ignore', 'inherit', 'pipe', 'ipc'],
  });
  let words = '';
  child.stderr?.on('data', (text: Buffer) => (words = (words + text).slice(-4000)));
  const exited = once(child, 'exit');
  return { child, exited, words: () => words };
}

/** Workers that run here: one for each core, four at the most, or what OISEAU_WORKERS says; none where others work. @throws Plain */
export function workersWanted(): number {
  const { OISEAU_WORKERS: said } = process.env;
  if (said === undefined) return Math.max(1, Math.min(4, availableParallelism()));
  if (!/^\d{1,2}$/.test(said)) throw new Plain(`OISEAU_WORKERS=${said} isn’t a number of workers.`);
  return Number(said);
}

/** Workers alone, for a database and a media store that are elsewhere. @returns the way to end them, and what rejects when one has died too often */
export async function runWorkers(
  data: string,
  count: number,
  tell: (sentence: string) => void = console.error,
): Promise<{ readonly failed: Promise<never>; stop(): Promise<void> }> {
  process.umask(0o077);
  await mkdir(data, { recursive: true });
  const env = await environmentOf(data);
  const programs: Program[] = [];
  const kept = Array.from({ length: count }, (_, i) =>
    supervise(
      'A worker',
      () => Promise.resolve((programs[i] = startProgram('worker', { ...env, OISEAU_ROLE: 'worker' }))),
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

/** The first message of a program; undefined when it ended without one. */
const firstMessage = <M>({ child, exited }: Program): Promise<M | undefined> =>
  Promise.race([once(child, 'message').then(([message]) => message as M), exited.then(() => undefined)]);

/** Starts the web server. @returns it, and the port that it listens at. @throws Plain with the reason why it did not start */
async function startServer(env: Environment): Promise<Program & { readonly port: number }> {
  const server = startProgram('server', env);
  const ready = await firstMessage<{ port: number }>(server);
  if (ready) return { ...server, port: ready.port };
  const reason = lastWords(server.words());
  // As the database's driver says that a table is damaged or gone.
  const isDamaged = /errno: (?:1030|1034|1035|1194|1195|1712|1812|1877|1932)\b/.test(server.words());
  throw new Plain(
    isDamaged
      ? `The server did not start: a database table is damaged (${reason}). ${env.OISEAU_WAY_OUT}`
      : `The server did not start: ${reason}`,
  );
}

/** Starts the stand-ins for receivers. @returns them, and the file that tells where they listen. @throws Plain */
async function startStandins(env: Environment): Promise<Program & { readonly list: string }> {
  const standins = startProgram('standins', env);
  const ready = await firstMessage<{ list: string }>(standins);
  if (ready) return { ...standins, list: ready.list };
  const reason = lastWords(standins.words());
  throw new Plain(`The simulated recipients did not start: ${reason}`);
}

/** What is needed to end a program: a way of its own, or its process. */
interface Ending {
  readonly child?: ChildProcess;
  readonly exited?: Promise<unknown>;
  readonly stop?: () => Promise<void>;
}

interface Kept {
  readonly name: string;
  readonly supervised: Supervised;
  stop(): Promise<void>;
}

export interface ApplicationOptions {
  readonly data: string;
  /** 0: any free one. */
  readonly port: number;
  readonly workers: number;
  /** The data are of no use afterwards (tests): nothing waits for the disk. */
  readonly throwaway?: boolean;
}

export interface Started {
  readonly url: string;
  readonly key: string;
  readonly keyFile: string;
  /** The environment of its programs. */
  readonly environment: Environment;
  /** Rejects when something has died too often. */
  readonly failed: Promise<never>;
}

/**
 * The application on a data folder. Children live in process groups of their own, so that Ctrl-C reaches only this process, which ends them
 * in order; should it be killed, they notice and end themselves. What dies is started again.
 *
 * `stop` may be called at any time, while it starts as well.
 */
export class Application {
  #stopping = false;
  #claimed: string | undefined;
  /** The database, the server and the workers, in the order in which they were started. */
  #kept: Kept[] = [];
  #tell: (sentence: string) => void;

  /** @param tell gets a sentence when something has died and is started again */
  constructor(tell: (sentence: string) => void = console.error) {
    this.#tell = tell;
  }

  async start({ data, port, workers, throwaway }: ApplicationOptions): Promise<Started> {
    if (port !== 0 && !(await isFree(port)))
      throw new Plain(`Port ${port} is in use; choose another with OISEAU_PORT=4681 npm start.`);
    // Other people of this machine have no business in here.
    process.umask(0o077);
    await demandFolder(data);
    this.#claimed = await claimFolder(data);
    let database: MariaDb | undefined;
    if (!isElsewhere()) {
      await clearOrphan(data);
      await this.#keep(DATABASE, async (begun) => {
        database = await startMariaDb(join(data, 'database'), {
          room: database?.room,
          throwaway,
          onSpawn: (stop) => begun({ stop }),
        }).catch((error: unknown) => {
          throw new Plain(messageOf(error));
        });
        const help = await wayOut(join(data, 'database'));
        return {
          child: database.process,
          exited: database.exited,
          words: (givenUp = false) => (givenUp ? help : ''),
          stop: database.stop,
        };
      });
    }
    const env: Environment = {
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
      }).catch((error: unknown) => {
        // A simulation stops no start: health says that it is missing.
        if (this.#stopping) throw error;
        delete env.OISEAU_STANDINS;
        env.OISEAU_STANDINS_TROUBLE = messageOf(error);
        this.#tell(messageOf(error));
      });
    else delete env.OISEAU_STANDINS;
    await this.#keep('The server', async () => {
      const server = await startServer(env);
      // People have its address: started again it listens there.
      env.OISEAU_PORT = String(server.port);
      return server;
    });
    for (let i = 0; i < workers; i++)
      await this.#keep('A worker', () =>
        Promise.resolve(startProgram('worker', { ...env, OISEAU_ROLE: 'worker' })),
      );
    await this.#keep('The delivery worker', () =>
      Promise.resolve(startProgram('worker', { ...env, OISEAU_ROLE: 'courier' })),
    );
    // What may die too often without ending everything: health says that it does not answer.
    const needed = this.#kept.filter(({ name }) => name !== STANDINS);
    const failed = Promise.race(needed.map(({ supervised }) => supervised.gaveUp)).catch((error: unknown) => {
      throw new Plain(messageOf(error));
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
  async #keep(
    name: string,
    start: (begun: (program: Ending) => void) => Promise<Ending & Running>,
  ): Promise<void> {
    if (this.#stopping) throw new Plain('Stopped during start.');
    let program: Ending | undefined;
    const begin = async () => {
      const begun = await start((early) => (program = early));
      program = begun;
      if (this.#stopping) await endOf(begun);
      return begun;
    };
    const supervised = supervise(name, begin, (sentence) => {
      if (!this.#stopping) this.#tell(sentence);
    });
    this.#kept.push({ name, supervised, stop: async () => void (program && (await endOf(program))) });
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
    const isDatabase = ({ name }: Kept): boolean => name === DATABASE;
    await Promise.all(this.#kept.filter((kept) => !isDatabase(kept)).map((program) => program.stop()));
    await this.#kept.find(isDatabase)?.stop();
    if (this.#claimed) await rm(this.#claimed, { force: true });
  }
}

/** Ends a program and waits for its end. */
async function endOf({ child, exited, stop }: Ending): Promise<void> {
  if (stop) return stop();
  if (child?.exitCode === null && child.signalCode === null) child.kill('SIGTERM');
  await exited;
}

/** The application, started: for tests and the bench. */
export async function runApplication(
  options: ApplicationOptions,
): Promise<Started & { stop(): Promise<void> }> {
  const application = new Application();
  try {
    const started = await application.start(options);
    return { ...started, stop: () => application.stop() };
  } catch (error) {
    await application.stop();
    throw error;
  }
}

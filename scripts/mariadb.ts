// A MariaDB server of our own: its own data folder and socket, never one that already runs.
import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { chmod, lstat, mkdir, mkdtemp, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { connect } from 'node:net';
import { tmpdir, userInfo } from 'node:os';
import { dirname, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { findProgram, Plain } from './system.js';

/** The longest path that a Unix socket can have on Linux, less its end mark. */
const SOCKET_PATH = 107;

const SOCKET = 'mariadb.sock';
const SOCKET_PLACE = 'socket';

/** After a power cut it reads its log first, which takes its time on a slow disk; one that can’t be opened ends by itself. */
const LONGEST_OPENING_MS = 600_000;

/** How long one that has answered may take to end, and one that has not. What it had promised lies on the disk, however it ends. */
const PATIENCE_MS = 120_000;
const BEGINNING_MS = 5000;

/** Ends the database with us, however we end (util-linux); without it the next start ends what was left behind. */
const WITH_PARENT = existsSync('/usr/bin/setpriv') ? ['/usr/bin/setpriv', '--pdeathsig', 'TERM'] : [];

/** What MariaDB makes is for its owner alone; nothing else of the environment is its concern. */
const OWN = { PATH: process.env.PATH ?? '', UMASK: '0600', UMASK_DIR: '0700' };

/** A folder that its owner alone can enter: the database's own, or one made anew where that name is too long for a socket. */
async function socketFolder(folder: string): Promise<string> {
  const room = join(folder, SOCKET).length <= SOCKET_PATH ? folder : await mkdtemp(join(tmpdir(), 'oiseau-'));
  const { uid, mode } = await lstat(room);
  if (uid !== userInfo().uid || (mode & 0o077) !== 0)
    throw new Error(`${room} is accessible to other users.`);
  return room;
}

/** A password of our own for this data folder, made once. */
async function secretOf(folder: string): Promise<string> {
  const path = join(folder, 'secret');
  const known = await readFile(path, 'utf8').catch(() => '');
  if (/^[0-9a-f]{48}$/.test(known)) return known;
  const made = randomBytes(24).toString('hex');
  await writeFile(path, made, { mode: 0o600 });
  return made;
}

/** @throws Plain when it is not installed */
function programOf(name: string): string {
  const path = findProgram(name);
  if (path === undefined) throw new Plain(`${name} is not installed.`);
  return path;
}

/** Creates the data folder in a place beside it and renames it when complete, so that a half-made one is never used. */
async function createDataFolder(data: string): Promise<void> {
  // What lies there and is no database any more is never written over.
  if (existsSync(join(data, 'mysql')) || (await readdir(data).catch(() => [])).length > 0) return;
  const fresh = `${data}.new`;
  // Two that are installed at the same moment would meet in the machine's shared temporary folder.
  const temporary = `${data}.tmp`;
  for (const folder of [fresh, temporary]) await rm(folder, { recursive: true, force: true });
  await mkdir(temporary, { mode: 0o700 });
  execFileSync(
    programOf('mariadb-install-db'),
    [
      '--no-defaults',
      `--datadir=${fresh}`,
      `--tmpdir=${temporary}`,
      `--user=${userInfo().username}`,
      '--auth-root-authentication-method=normal',
      '--skip-test-db',
    ],
    { stdio: ['ignore', 'pipe', 'pipe'], env: { ...OWN, TMPDIR: temporary } },
  );
  await rm(temporary, { recursive: true, force: true });
  await rename(fresh, data);
}

/** Where programs reach a database: its socket, and the file with the password. */
export interface DatabasePlace {
  readonly socket: string;
  readonly secretFile: string;
}

export interface MariaDb extends DatabasePlace {
  /** Folder of the socket. */
  readonly room: string;
  readonly secret: string;
  readonly process: ChildProcess;
  readonly exited: Promise<unknown>;
  stop(): Promise<void>;
}

/** What the account of the application may do. */
interface Rights {
  /** Pattern of database names. */
  readonly databases: string;
  readonly more: string;
}

export interface MariaDbOptions {
  /** Rights of the account. */
  readonly rights?: Rights;
  /** Its data are of no use to anybody afterwards (tests): nothing waits for the disk. */
  readonly throwaway?: boolean | undefined;
  /** Port of the loopback address at which it listens as well, and only by TLS: for tests of a database elsewhere. */
  readonly port?: number;
  readonly certificate?: { readonly cert: string; readonly key: string };
  /** Gets the way to end it as soon as there is something to end. */
  readonly onSpawn?: (stop: () => Promise<void>) => void;
  /** Folder of the socket, where the database was there before: programs that knew its path find it again. */
  readonly room?: string | undefined;
}

/** The database that runs on a folder already: where its socket and its secret lie. */
export async function runningMariaDb(folder: string): Promise<DatabasePlace> {
  const socket = (await readFile(join(folder, SOCKET_PLACE), 'utf8')).trim();
  return { socket, secretFile: join(folder, 'secret') };
}

/** What the application needs: its one database, in which nothing is ever dropped but an index. */
const OF_APPLICATION: Rights = { databases: 'oiseau', more: '' };
/** Tests make databases of their own, and drop them. */
export const OF_TESTS: Rights = { databases: 'oiseau%', more: ', DROP' };

/** Statements run at each start, before anyone can connect: the accounts and the database. Only hexadecimal goes in. */
const accounts = (secret: string, { databases, more }: Rights, hosts: readonly string[]): string => `
ALTER USER root@localhost IDENTIFIED BY '${secret}';
CREATE DATABASE IF NOT EXISTS oiseau CHARACTER SET utf8mb4 COLLATE utf8mb4_bin;
${hosts
  .map(
    (host) => `CREATE USER IF NOT EXISTS oiseau@'${host}';
ALTER USER oiseau@'${host}' IDENTIFIED BY '${secret}';
REVOKE ALL PRIVILEGES, GRANT OPTION FROM oiseau@'${host}';
GRANT SELECT, INSERT, UPDATE, DELETE, CREATE, ALTER, INDEX, REFERENCES, TRIGGER${more} ON \`${databases}\`.* TO oiseau@'${host}';
`,
  )
  .join('')}`;

const answers = (socket: string): Promise<boolean> =>
  new Promise((resolve) => {
    const client = connect(socket);
    client.once('data', () => {
      resolve(true);
      client.destroy();
    });
    client.once('error', () => resolve(false));
  });

/**
 * Starts MariaDB on the data below `folder` and waits until it answers. It listens on its socket alone: nothing outside
 * this machine, and only with the folder's secret, can reach it.
 */
export async function startMariaDb(
  folder: string,
  {
    rights = OF_APPLICATION,
    room: known,
    throwaway = false,
    port,
    certificate,
    onSpawn = () => undefined,
  }: MariaDbOptions = {},
): Promise<MariaDb> {
  await mkdir(folder, { recursive: true });
  await chmod(folder, 0o700);
  const data = join(folder, 'mysql');
  const log = join(folder, 'mariadb.log');
  await createDataFolder(data);
  const secret = await secretOf(folder);
  const temporary = join(folder, 'tmp');
  await mkdir(temporary, { recursive: true, mode: 0o700 });
  const init = join(folder, 'accounts.sql');
  const hosts = port === undefined ? ['localhost'] : ['localhost', '127.0.0.1'];
  await writeFile(init, accounts(secret, rights, hosts), { mode: 0o600 });
  const pidFile = join(folder, 'mariadb.pid');
  await rm(pidFile, { force: true });
  const room = known ?? (await socketFolder(folder));
  const socket = join(room, SOCKET);
  // Who comes to a database that runs already (a backup) finds it by this.
  await writeFile(join(folder, SOCKET_PLACE), socket, { mode: 0o600 });
  const [program = '', ...before] = [...WITH_PARENT, programOf('mariadbd')];
  const child = spawn(
    program,
    [
      ...before,
      '--no-defaults',
      `--datadir=${data}`,
      `--tmpdir=${temporary}`,
      `--socket=${socket}`,
      `--pid-file=${pidFile}`,
      `--log-error=${log}`,
      `--init-file=${init}`,
      `--user=${userInfo().username}`,
      ...(port === undefined
        ? ['--skip-networking']
        : [
            '--bind-address=127.0.0.1',
            `--port=${port}`,
            '--require-secure-transport=on',
            '--skip-name-resolve',
          ]),
      ...(certificate ? [`--ssl-cert=${certificate.cert}`, `--ssl-key=${certificate.key}`] : []),
      '--innodb-buffer-pool-size=128M',
      '--innodb-flush-log-at-trx-commit=1',
      ...(throwaway ? ['--innodb-flush-method=nosync'] : []),
      '--max-allowed-packet=64M',
    ],
    { stdio: 'ignore', detached: true, env: OWN },
  );
  let ended = false;
  let isReady = false;
  // The compiler does not see that the handlers change it.
  const hasEnded = (): boolean => ended;
  const exit = new Promise<void>((resolve) =>
    child.once('exit', () => {
      ended = true;
      resolve();
    }),
  );
  child.once('error', () => (ended = true));
  const stop = async () => {
    if (!hasEnded()) child.kill('SIGTERM');
    // One that is told to end in the midst of its beginning may wait for itself for ever; it has promised nothing to anybody yet.
    const patience = setTimeout(
      () => hasEnded() || child.kill('SIGKILL'),
      isReady ? PATIENCE_MS : BEGINNING_MS,
    );
    await exit;
    clearTimeout(patience);
    if (room !== folder) await rm(room, { recursive: true, force: true });
  };
  onSpawn(stop);
  for (const until = performance.now() + LONGEST_OPENING_MS; performance.now() < until && !hasEnded();) {
    // Only this user can create a socket in that folder, and the number was written by the child that we started.
    const pid = Number(await readFile(pidFile, 'utf8').catch(() => '0'));
    if (pid === child.pid && (await answers(socket))) {
      isReady = true;
      return { socket, room, secret, secretFile: join(folder, 'secret'), process: child, exited: exit, stop };
    }
    await sleep(50);
  }
  if (!hasEnded()) await stop();
  throw new Error(`The database in ${data} can’t be opened. ${await wayOut(folder)}`);
}

/** The remedy for a database that doesn't open. @param folder of the database */
export async function wayOut(folder: string): Promise<string> {
  const data = dirname(folder);
  const made = await readdir(join(data, 'backups')).catch(() => []);
  const newest = made
    .filter((name) => !name.endsWith('.partial'))
    .sort()
    .at(-1);
  const backup = newest ? JSON.stringify(join(data, 'backups', newest)) : 'BACKUP';
  const which = newest ? ' (or use a newer backup, if you have one)' : ', where BACKUP is your newest one';
  return `It is probably damaged or incomplete. Restore a backup: npm run restore -- ${backup} ${JSON.stringify(`${data}-restored`)}${which}. The folder was not changed; see ${join(folder, 'mariadb.log')}.`;
}

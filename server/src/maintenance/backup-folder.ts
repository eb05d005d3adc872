import { msg } from '@oiseau/messages';
import { hostname } from 'node:os';
import { lstat, mkdir, open, readdir, readFile, realpath, rm, stat, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import { Failure } from '@oiseau/audio/errors';
import { systemCode } from '@oiseau/host';

/** The end of the name of what is not whole yet. */
export const PARTIAL = '.partial';
const LOCK = 'backup.lock';
/** A lock is touched this often, and counts as left behind after so long without. */
const TOUCH_MS = 20_000;
const STALE_MS = 120_000;

/** Another backup into the same folder is under way. */
export class BackupBusy extends Failure {
  override readonly name = 'BackupBusy';
  readonly code = 'backup-busy';
  readonly status = 409;
}

/**
 * Does something in a folder of backups under its lock, and clears what a killed backup has left.
 * @throws BackupBusy
 */
export async function withBackupFolder<T>(folder: string, work: () => Promise<T>): Promise<T> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const lock = join(folder, LOCK);
  await takeLock(lock);
  const touching = setInterval(
    () => void utimes(lock, new Date(), new Date()).catch(() => undefined),
    TOUCH_MS,
  );
  try {
    await clearPartial(folder);
    await clearPartial(join(folder, 'content'));
    return await work();
  } finally {
    clearInterval(touching);
    await rm(lock, { force: true });
  }
}

async function takeLock(lock: string): Promise<void> {
  for (let tries = 0; tries < 2; tries++) {
    try {
      const file = await open(lock, 'wx', 0o600);
      await file.writeFile(`${hostname()}\n${process.pid}\n`);
      await file.close();
      return;
    } catch (error) {
      if (systemCode(error) !== 'EEXIST') throw error;
    }
    const [host, pid] = (await readFile(lock, 'utf8').catch(() => '')).split('\n');
    const touched = (await stat(lock).catch(() => null))?.mtimeMs ?? 0;
    const isGone = host === hostname() ? !isAlive(Number(pid)) : Date.now() - touched > STALE_MS;
    if (!isGone)
      throw new BackupBusy(
        msg(
          'Another backup into this folder is running (process {pid} on {host}). Wait for it, or name another folder.',
          { pid: pid ?? '?', host: host ?? '?' },
        ),
      );
    await rm(lock, { force: true });
  }
  throw new BackupBusy(
    msg('Another backup into this folder has just started. Wait for it, or name another folder.'),
  );
}

function isAlive(pid: number): boolean {
  if (!(pid > 0)) return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return systemCode(error) === 'EPERM';
  }
}

async function clearPartial(folder: string): Promise<void> {
  for (const name of await readdir(folder).catch(() => []))
    if (name.endsWith(PARTIAL)) await rm(join(folder, name), { recursive: true, force: true });
}

/**
 * The path of a file in a folder of backups, as it may be read: a file of that folder's own, not a link, a pipe or a device, which a strange
 * backup may hold. null: it is missing.
 * @param folder may itself be a link of the person who named it
 * @throws BackupUnsafe
 */
export async function regularFile(folder: string, ...names: readonly string[]): Promise<string | null> {
  const root = await realpath(folder).catch(() => null);
  if (root === null) return null;
  const path = join(root, ...names);
  const found = await lstat(path).catch(() => null);
  if (!found) return null;
  if (!found.isFile() || (await realpath(path)) !== path)
    throw new BackupUnsafe(msg('{path} is a link or not a regular file, so it isn’t read.', { path }));
  return path;
}

/** A backup that would lead out of its folder. */
export class BackupUnsafe extends Failure {
  override readonly name = 'BackupUnsafe';
  readonly code = 'backup-unsafe';
  readonly status = 422;
}

// The data folder: one start at a time has it, and it can be written to.
import {
  chmod,
  link,
  mkdir,
  readFile,
  realpath,
  rename,
  rm,
  stat,
  statfs,
  writeFile,
} from 'node:fs/promises';
import { join } from 'node:path';
import { codeOf, Plain } from './system.js';

/** Whether a process of this number runs. */
export const alive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

/** When a process was started, in ticks since the machine was [proc(5), field 22 of stat]; the second of its number is never as old. */
async function beginningOf(pid: number): Promise<string> {
  const stat = await readFile(`/proc/${pid}/stat`, 'utf8').catch(() => '');
  return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? '';
}

/** The process that runs from a data folder; undefined when none does. */
export async function ownerOf(data: string): Promise<number | undefined> {
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
export async function claimFolder(data: string): Promise<string> {
  const path = join(data, 'start.pid');
  const own = `${path}.${process.pid}`;
  await writeFile(own, [process.pid, await beginningOf(process.pid), await realpath(data)].join('\n'));
  try {
    for (let tries = 0; tries < 5; tries++) {
      try {
        await link(own, path);
        return path;
      } catch (error) {
        if (codeOf(error) !== 'EEXIST') throw error;
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

/** Removes the mark of a start that has ended, unless another start has just written its own. */
async function clearStale(path: string): Promise<void> {
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
export async function demandFolder(data: string): Promise<void> {
  const elsewhere = 'OISEAU_DATA=FOLDER npm start takes another';
  try {
    await mkdir(data, { recursive: true });
    await chmod(data, 0o700);
    const probe = join(data, `.probe-${process.pid}`);
    await writeFile(probe, '');
    await rm(probe);
  } catch (error) {
    const code = codeOf(error) ?? '';
    const why = new Map([
      ['EROFS', 'its disk is read-only'],
      ['ENOSPC', 'its disk is full'],
      ['ENOTDIR', 'it isn’t a folder'],
    ]).get(code);
    throw new Plain(
      `The data folder ${data} can’t be written to: ${why ?? `it is not yours (${code})`}. ${elsewhere}.`,
    );
  }
  const { bavail, bsize } = await statfs(data);
  if (bavail * bsize < LEAST_ROOM)
    throw new Plain(
      `The disk of the data folder ${data} has ${Math.round((bavail * bsize) / 1e6)} MB left, and ${LEAST_ROOM / 1e6} MB are needed to begin with. Make room there, or ${elsewhere}.`,
    );
}

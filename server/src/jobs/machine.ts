import { readFileSync } from 'node:fs';
import { hostname } from 'node:os';

/** What this machine is called beside the number of a worker's process. */
export const machineName = (): string => hostname().replaceAll(':', '-').slice(0, 60);

/** A worker as the jobs table and health name it: its machine and process. */
export const workerName = (): string => `${machineName()}:${process.pid}`;

/** Whether a worker of this machine still runs: its process is there, and is one of our workers, not another of the same number. */
export function isWorkerAlive(name: string): boolean {
  const pid = Number(name.split(':').at(-1));
  if (!Number.isSafeInteger(pid) || pid <= 0) return false;
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8')
      .split('\0')
      .some((word) => word.endsWith('worker.mjs'));
  } catch {
    return false;
  }
}

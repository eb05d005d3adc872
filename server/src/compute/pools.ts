import { Piscina } from 'piscina';
import type { ComputePool } from '../http/compute-pool.js';
import { TASKS, type TaskName } from './tasks.js';

/** What does a task somewhere. */
type Run = <Name extends TaskName>(
  name: Name,
  argument: Parameters<(typeof TASKS)[Name]>[0],
) => Promise<Awaited<ReturnType<(typeof TASKS)[Name]>>>;

const poolOf = (run: Run): ComputePool => ({
  body: (call, text) => run('body', { call, text }),
  check: (subject) => run('check', subject),
  albumDocument: (file, masters) => run('albumDocument', { file, masters }),
  patchedAlbum: (document, patch) => run('patchedAlbum', { document, patch }),
  albumJson: (document, drafts) => run('albumJson', { document, drafts }),
  listings: (documents, masters) => run('listings', { documents, masters }),
  openImage: (folder) => run('image', folder),
  paper: (paper) => run('paper', paper),
  outline: (path, info) => run('outline', { path, info }),
});

/** Threads at work at most, tasks that wait for them, and megabytes that each may take. */
const THREADS = 2;
const MOST_WAITING = 200;
const MOST_MEMORY_MB = 1024;

/**
 * Work in threads of their own.
 * @param file the built program of such a thread
 */
export function threadPool(file: string): { pool: ComputePool; close(): Promise<void> } {
  const threads = new Piscina({
    filename: file,
    minThreads: 1,
    maxThreads: THREADS,
    maxQueue: MOST_WAITING,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY_MB },
  });
  const run = ((name, argument) => threads.run({ name, argument })) as Run;
  return { pool: poolOf(run), close: () => threads.destroy() };
}

/** The same work, in the thread that asks for it. */
export const computeHere: ComputePool = poolOf((async (name, argument) =>
  (TASKS[name] as (of: typeof argument) => unknown)(argument)) as Run);

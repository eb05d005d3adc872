import { Piscina } from 'piscina';
import type { Thinker } from '../http/thinker.js';
import { TASKS, type TaskName } from './tasks.js';

/** What does a task somewhere. */
type Run = <Name extends TaskName>(
  name: Name,
  argument: Parameters<(typeof TASKS)[Name]>[0],
) => Promise<Awaited<ReturnType<(typeof TASKS)[Name]>>>;

const thinker = (run: Run): Thinker => ({
  body: (call, text) => run('body', { call, text }),
  check: (subject) => run('check', subject),
  document: (album) => run('document', album),
  openImage: (folder) => run('image', folder),
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
export function threadThinker(file: string): { thinker: Thinker; close(): Promise<void> } {
  const pool = new Piscina({
    filename: file,
    minThreads: 1,
    maxThreads: THREADS,
    maxQueue: MOST_WAITING,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY_MB },
  });
  const run = ((name, argument) => pool.run({ name, argument })) as Run;
  return { thinker: thinker(run), close: () => pool.destroy() };
}

/** The same work, in the thread that asks for it. */
export const thinkHere: Thinker = thinker((async (name, argument) =>
  (TASKS[name] as (of: typeof argument) => unknown)(argument)) as Run);

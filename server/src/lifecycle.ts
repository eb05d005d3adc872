import { setTimeout as sleep } from 'node:timers/promises';

const PATIENCE_MS = 10_000;

/**
 * Calls `stop` once, when the process is asked to end: by a signal, or because the program that started it has gone
 * (its message channel closes), so that nothing is ever left running behind it. What takes longer than ten seconds is left as it is: where the
 * database has gone as well, what is waited for never comes, and the next start takes up what was at work.
 */
export function onShutdown(stop: () => Promise<void>): void {
  let stopping = false;
  const end = (): void => {
    if (stopping) return;
    stopping = true;
    Promise.race([stop(), sleep(PATIENCE_MS)]).then(
      () => process.exit(0),
      () => process.exit(1),
    );
  };
  process.on('SIGTERM', end);
  process.on('SIGINT', end);
  process.on('disconnect', end);
  // It may have gone while this process was still loading: the channel tells, its event came too early to be heard.
  if (process.connected === false) end();
}

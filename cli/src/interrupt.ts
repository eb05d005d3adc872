import { UsageError } from './exit.js';

let asked = false;

/** From now on an interrupt takes effect at the next check (`demandGoingOn`), so that incomplete files are removed; a second one ends at once. */
export function listenForInterrupts(): void {
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.on(signal, () => {
      if (asked) process.exit(2);
      asked = true;
    });
}

export const isInterrupted = (): boolean => asked;

/** @throws UsageError after an interrupt */
export function demandGoingOn(): void {
  if (asked) throw new UsageError(INTERRUPTED);
}

export const INTERRUPTED = 'Interrupted. Incomplete files were removed.';

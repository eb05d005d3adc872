import { UsageError } from './exit.js';

let asked = false;

/** From now on somebody who interrupts is heard at the next look (`demandGoingOn`), so that what is half-done goes; the second time ends at once. */
export function listenForInterrupts(): void {
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.on(signal, () => {
      if (asked) process.exit(2);
      asked = true;
    });
}

export const isInterrupted = (): boolean => asked;

/** @throws UsageError once somebody has interrupted */
export function demandGoingOn(): void {
  if (asked) throw new UsageError(INTERRUPTED);
}

export const INTERRUPTED = 'Interrupted. Incomplete files were removed.';

// Keeps a program running: what dies is started again, at first at once, then after longer and longer waits.
import { messageOf } from './system.js';

/** Milliseconds before the first new start and the longest; five deaths in a minute are too many. */
const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 30_000;
const TOO_MANY = 5;
const WITHIN_MS = 60_000;

/**
 * Tells after a death how long to wait before the next start.
 * @returns a function that takes the moment of a death in milliseconds, and gives milliseconds; null: it has died too often
 */
export function backOff(): (now: number) => number | null {
  let deaths: number[] = [];
  return (now) => {
    deaths = [...deaths.filter((at) => now - at < WITHIN_MS), now];
    if (deaths.length >= TOO_MANY) return null;
    return Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** (deaths.length - 1));
  };
}

/** The reason why a program died, of what it wrote: the message of the error that ended it, or else the last three lines. */
export const lastWords = (written: string): string =>
  /Error: (.+)/.exec(written)?.[1] ?? written.trim().split('\n').slice(-3).join(' ');

/** A program that runs. */
export interface Running {
  /** Resolves at its end. */
  readonly exited: Promise<unknown>;
  /** The reason of its end, where it has written one. @param givenUp it is not started again */
  words(givenUp?: boolean): string;
}

export interface Supervised {
  /** The first start. */
  readonly started: Promise<void>;
  /** Rejects when it has died too often. */
  readonly gaveUp: Promise<never>;
  stop(): void;
  /** Starts it again at once when `end` has ended it; that is no death. */
  restart(end: () => Promise<unknown>): Promise<void>;
}

/**
 * @param name as people read it
 * @param start starts the program; resolves when it is ready
 * @param tell gets a sentence about each death
 */
export function supervise(
  name: string,
  start: () => Promise<Running>,
  tell: (sentence: string) => void,
): Supervised {
  const nextWait = backOff();
  let stopping = false;
  /** It is ended on purpose, to be started again. */
  let restarting = false;
  let wake: () => void = () => undefined;
  let giveUp: (reason: Error) => void = () => undefined;
  const gaveUp = new Promise<never>((_, reject) => (giveUp = reject));
  gaveUp.catch(() => undefined);
  const startAgain = (): Promise<Running | undefined> =>
    start().catch((error: unknown) => {
      tell(`${name} could not be restarted: ${messageOf(error)}`);
      return undefined;
    });
  const keep = async (program: Running): Promise<void> => {
    for (let running: Running | undefined = program; ;) {
      if (running) await running.exited;
      if (stopping) return;
      if (restarting) {
        restarting = false;
        running = await startAgain();
        if (running) continue;
      }
      const wait = nextWait(performance.now());
      const words = lastWords(running?.words(wait === null) ?? '');
      if (wait === null)
        return giveUp(new Error(`${name} crashed ${TOO_MANY} times within a minute. ${words}`.trim()));
      tell(`${name} stopped unexpectedly and is being restarted. ${words}`.trim());
      await new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, wait);
        wake = () => {
          clearTimeout(timer);
          resolve();
        };
      });
      if (stopping) return;
      running = await startAgain();
    }
  };
  const started = start().then((program) => void keep(program));
  return {
    started,
    gaveUp,
    stop() {
      stopping = true;
      wake();
    },
    async restart(end) {
      restarting = true;
      await end();
    },
  };
}

// Keeps a program running: what dies is started again, at first at once, then after longer and longer waits.

/** Milliseconds before the first new start and the longest; five deaths in a minute are too many. */
const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 30_000;
const TOO_MANY = 5;
const WITHIN_MS = 60_000;

/**
 * Tells after a death how long to wait before the next start.
 * @returns a function that takes the moment of a death in milliseconds, and gives milliseconds; null: it has died too often
 */
export function backOff() {
  let deaths = [];
  return (now) => {
    deaths = [...deaths.filter((at) => now - at < WITHIN_MS), now];
    if (deaths.length >= TOO_MANY) return null;
    return Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** (deaths.length - 1));
  };
}

/** The reason why a program died, of what it wrote: the message of the error that ended it, or else the last three lines. */
export const lastWords = (written) =>
  /Error: (.+)/.exec(written)?.[1] ?? written.trim().split('\n').slice(-3).join(' ');

/**
 * @param name as people read it
 * @param start starts the program; resolves when it is ready, to { exited, words }: a promise of its end, and a function of its last words, which is told whether it is given up
 * @param tell gets a sentence about each death
 * @returns {{ started: Promise<void>, gaveUp: Promise<never>, stop(): void, restart(end: () => Promise<void>): Promise<void> }} `started`: the first start; `gaveUp` rejects when it has died too often
 */
export function supervise(name, start, tell) {
  const nextWait = backOff();
  let stopping = false;
  /** It is ended on purpose, to be started again. */
  let restarting = false;
  let wake = () => undefined;
  let giveUp;
  const gaveUp = new Promise((_, reject) => (giveUp = reject));
  gaveUp.catch(() => undefined);
  const keep = async (program) => {
    for (let running = program; ;) {
      if (running) await running.exited;
      if (stopping) return;
      if (restarting) {
        restarting = false;
        running = await start().catch(
          (error) => void tell(`${name} could not be started again: ${error.message}`),
        );
        if (running) continue;
      }
      const wait = nextWait(performance.now());
      const words = lastWords(running?.words(wait === null) ?? '');
      if (wait === null)
        return giveUp(new Error(`${name} has died ${TOO_MANY} times within a minute. ${words}`.trim()));
      tell(`${name} ended unexpectedly; it is started again. ${words}`.trim());
      await new Promise((resolve) => {
        const timer = setTimeout(resolve, wait);
        wake = () => (clearTimeout(timer), resolve());
      });
      if (stopping) return;
      running = await start().catch(
        (error) => void tell(`${name} could not be started again: ${error.message}`),
      );
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
    /** Starts it again at once when `end` has ended it; that is no death. */
    async restart(end) {
      restarting = true;
      await end();
    },
  };
}

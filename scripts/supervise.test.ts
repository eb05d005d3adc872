import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { backOff, lastWords, supervise, type Running } from './supervise.js';

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

it('waits twice as long after each death, and gives up after five in a minute', () => {
  const wait = backOff();
  expect([0, 1000, 3000, 6000, 9000].map(wait)).toEqual([500, 1000, 2000, 4000, null]);
  const rare = backOff();
  expect([0, 61_000, 122_000].map(rare)).toEqual([500, 500, 500]);
});

/** A program that dies when it is told to. */
function mortal() {
  let starts = 0;
  let die: () => void = () => undefined;
  const start = (): Promise<Running> => {
    starts += 1;
    return Promise.resolve({
      exited: new Promise<void>((resolve) => (die = resolve)),
      words: () => 'last words',
    });
  };
  return { start, starts: () => starts, kill: () => die() };
}

it('starts again what has died, tells of it, and stops when it is told to', async () => {
  const program = mortal();
  const told: string[] = [];
  const kept = supervise('The server', program.start, (words) => told.push(words));
  await kept.started;
  program.kill();
  await vi.advanceTimersByTimeAsync(499);
  expect(program.starts()).toBe(1);
  await vi.advanceTimersByTimeAsync(1);
  expect(program.starts()).toBe(2);
  expect(told).toEqual(['The server stopped unexpectedly and is being restarted. last words']);
  kept.stop();
  program.kill();
  await vi.advanceTimersByTimeAsync(60_000);
  expect(program.starts()).toBe(2);
});

it('says when it has died too often', async () => {
  const program = mortal();
  const kept = supervise('A worker', program.start, () => undefined);
  await kept.started;
  const gaveUp = expect(kept.gaveUp).rejects.toThrow('A worker crashed 5 times within a minute. last words');
  for (let i = 0; i < 5; i++) {
    program.kill();
    await vi.advanceTimersByTimeAsync(8000);
  }
  await gaveUp;
});

it('tells the reason that a program gave, not where its code stood', () => {
  const trace = [
    'file:///app/server.mjs:12',
    '    throw cause;',
    "Error: Table 'albums' is corrupted",
    '    at run (server.ts:1)',
    '  errno: 1877',
    '}',
    'Node.js v20',
  ];
  expect(lastWords(trace.join('\n'))).toBe("Table 'albums' is corrupted");
  expect(lastWords('one\ntwo\nthree\nfour\n')).toBe('two three four');
  expect(lastWords('')).toBe('');
});

// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Player } from './player.js';
import type { PlayerProgramme } from './protocol.js';

/** What the worker was told, and how many machines were built. */
const told: { type: string; programme?: PlayerProgramme }[] = [];
let built = 0;

const programme = (name: string): PlayerProgramme =>
  ({ sequence: { name }, masters: new Map([[name, {}]]) }) as unknown as PlayerProgramme;
const order = (): readonly (string | undefined)[] =>
  told
    .filter(({ type }) => type === 'programme' || type === 'play')
    .map((message) => [...(message.programme?.masters.keys() ?? [])][0] ?? message.type);

beforeEach(() => {
  told.length = built = 0;
  const port = { postMessage: () => undefined };
  vi.stubGlobal('isSecureContext', true);
  vi.stubGlobal(
    'AudioContext',
    class {
      audioWorklet = { addModule: () => Promise.resolve() };
      destination = {};
      constructor() {
        built++;
      }
      createGain = () => ({ gain: { value: 1 }, connect: () => undefined });
      resume = () => Promise.resolve();
      close = () => Promise.resolve();
    },
  );
  vi.stubGlobal(
    'AudioWorkletNode',
    class {
      port = port;
      connect = (to: unknown) => to;
    },
  );
  vi.stubGlobal(
    'Worker',
    class {
      postMessage = (message: { type: string }) => void told.push(message);
      terminate = () => undefined;
    },
  );
});
afterEach(() => vi.unstubAllGlobals());

const soon = () => new Promise((resolve) => setTimeout(resolve, 20));

describe('a programme that is set', () => {
  it('goes to the worker in a task of its own, the last of several alone', async () => {
    const player = new Player();
    player.setProgramme(programme('a'));
    player.setProgramme(programme('b'));
    expect(built).toBe(0);
    await soon();
    expect(order()).toEqual(['b']);
  });

  it('is there before anything is played, however early that is', async () => {
    const player = new Player();
    player.setProgramme(programme('a'));
    await soon();
    player.setProgramme(programme('b'));
    await player.play(0);
    expect(order()).toEqual(['a', 'b', 'play']);
    await soon();
    expect(order()).toEqual(['a', 'b', 'play']);
  });

  it('builds nothing for a view that is gone', async () => {
    const player = new Player();
    player.setProgramme(programme('a'));
    await player.close();
    await soon();
    expect(built).toBe(0);
  });
});

// @vitest-environment happy-dom
import type { Change } from '@oiseau/api';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { followChanges, onChanges, untilChange, whileNotTold } from './changes.js';

/** A channel as the browser has it, in the hand of the test. */
class Channel extends EventTarget {
  static readonly CLOSED = 2;
  static all: Channel[] = [];
  readyState = 1;
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;
  constructor(readonly url: string) {
    super();
    Channel.all.push(this);
  }
  close(): void {
    this.readyState = Channel.CLOSED;
  }
  change(lastEventId: string, data: object): void {
    this.dispatchEvent(new MessageEvent('change', { lastEventId, data: JSON.stringify(data) }));
  }
  reset(lastEventId: string): void {
    this.dispatchEvent(new MessageEvent('reset', { lastEventId, data: '{}' }));
  }
}

const MASTERS: Change = { topic: 'masters', album: 'a', version: null };
const told: (Change | 'missed')[] = [];
let leave: () => void;
let end: (() => void)[] = [];
const newest = (): Channel => Channel.all.at(-1) as Channel;

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('EventSource', Channel);
  Channel.all = [];
  told.length = 0;
  leave = onChanges({ changed: (change) => told.push(change), missed: () => told.push('missed') });
});
afterEach(() => {
  for (const each of end) each();
  end = [];
  leave();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});
const follow = (): void => void end.push(followChanges('key'));

describe('the channel of changes in a page', () => {
  it('tells what has changed; nobody needs to ask meanwhile, and everybody again when it breaks off', () => {
    follow();
    expect(newest().url).toMatch(/^\/api\/changes\?within=\d+$/);
    expect(whileNotTold(700)).toBe(700);
    newest().onopen?.();
    expect(whileNotTold(700)).toBe(false);
    newest().change('7', MASTERS);
    expect(told).toEqual([MASTERS]);
    newest().onerror?.();
    expect(whileNotTold(700)).toBe(700);
    vi.advanceTimersByTime(2000);
    expect(told).toEqual([MASTERS, 'missed']);
  });

  it('takes a channel that is back at once for no break', () => {
    follow();
    newest().onopen?.();
    newest().onerror?.();
    newest().onopen?.();
    vi.advanceTimersByTime(5000);
    expect(told).toEqual([]);
  });

  it('passes on that some were missed', () => {
    follow();
    newest().reset('9');
    expect(told).toEqual(['missed']);
  });

  it('opens a channel that was refused again, behind the last event that it has heard', () => {
    follow();
    newest().change('41', MASTERS);
    newest().readyState = Channel.CLOSED;
    newest().onerror?.();
    vi.advanceTimersByTime(9000);
    expect(Channel.all).toHaveLength(1);
    vi.advanceTimersByTime(2000);
    expect(newest().url).toBe('/api/changes?after=41');
  });

  it('asks for no more than the server keeps in a page that was opened hours ago', () => {
    vi.spyOn(performance, 'now').mockReturnValue(3 * 3600_000);
    follow();
    vi.mocked(performance.now).mockRestore();
    expect(newest().url).toBe('/api/changes?within=3600000');
  });

  it('does not trip over an event of a later version', () => {
    follow();
    newest().change('5', { topic: 'weather', album: null, version: null });
    newest().change('6', MASTERS);
    expect(told).toEqual([MASTERS]);
  });

  it('wakes who waits for a change of a topic, and nobody else', async () => {
    follow();
    newest().onopen?.();
    let woken = false;
    void untilChange('imports', { told: 5000, notTold: 200 }).then(() => (woken = true));
    newest().change('8', MASTERS);
    await vi.advanceTimersByTimeAsync(300);
    expect(woken).toBe(false);
    newest().change('9', { ...MASTERS, topic: 'imports' });
    await vi.advanceTimersByTimeAsync(0);
    expect(woken).toBe(true);
  });

  it('lets who waits go on after a while', async () => {
    let woken = false;
    void untilChange('imports', { told: 5000, notTold: 200 }).then(() => (woken = true));
    await vi.advanceTimersByTimeAsync(250);
    expect(woken).toBe(true);
  });
});

describe('windows of one browser', () => {
  it('have one channel among them, by turns', async () => {
    const waiting: (() => unknown)[] = [];
    vi.stubGlobal('navigator', {
      locks: {
        request: async (_name: string, { signal }: { signal: AbortSignal }, hold: () => Promise<void>) => {
          await new Promise<void>((resolve, reject) => {
            if (waiting.length === 0) resolve();
            waiting.push(resolve);
            signal.addEventListener('abort', () => reject(new Error('gone')));
          });
          await hold();
          waiting.shift();
          waiting[0]?.();
        },
      },
    });
    follow();
    follow();
    await vi.advanceTimersByTimeAsync(1);
    expect(Channel.all).toHaveLength(1);
    newest().change('3', MASTERS);
    end.shift()?.();
    await vi.advanceTimersByTimeAsync(1);
    expect(Channel.all.map(({ readyState }) => readyState)).toEqual([Channel.CLOSED, 1]);
  });

  it('that is opened later is told what has changed since by the one that follows', async () => {
    const opened = Date.now();
    const words: { kind: string; to?: string; changes?: unknown }[] = [];
    follow();
    newest().onopen?.();
    newest().change('3', MASTERS);
    const other = new BroadcastChannel('oiseau-changes-key');
    other.onmessage = ({ data }) => words.push(data as (typeof words)[number]);
    other.postMessage({ kind: 'hello', from: 'late', since: opened });
    await vi.waitFor(() => expect(words.some(({ kind }) => kind === 'live')).toBe(true));
    expect(words.find(({ to }) => to === 'late')?.changes).toEqual([MASTERS]);
    // What happened before the first window is unknown.
    other.postMessage({ kind: 'hello', from: 'early', since: 0 });
    await vi.waitFor(() => expect(words.some(({ to }) => to === 'early')).toBe(true));
    expect(words.find(({ to }) => to === 'early')?.changes).toBeNull();
    other.close();
  });
});

import { addressOf, change, CHANGES_KEPT_MS, CONTRACT, type Change, type ChangeTopic } from '@oiseau/api';

/** Receives changes on the server. */
export interface ChangeListener {
  changed(change: Change): unknown;
  /** Some were missed: anything may have changed. */
  missed(): unknown;
}

/** What a window tells the others of its browser. */
type Word =
  | { readonly kind: 'change'; readonly id: number | null; readonly change: Change }
  | { readonly kind: 'missed'; readonly id: number | null }
  | { readonly kind: 'live'; readonly live: boolean }
  /** A window has just been opened: `since` is when, ms since 1970. */
  | { readonly kind: 'hello'; readonly from: string; readonly since: number }
  /** What it has missed since; null: anything. */
  | { readonly kind: 'welcome'; readonly to: string; readonly changes: readonly Change[] | null };

/** Changes that are kept for windows that are just being opened, and for how long, ms. */
const MOST_KEPT = 500;
const KEPT_MS = 60_000;

/** A channel that breaks off is given so long to come back, ms: another window may take over. */
const GRACE_MS = 1500;
/** A channel that the server has ended for good (no session, too many windows) is tried again after so long, ms. */
const AGAIN_MS = 10_000;

const listeners = new Set<ChangeListener>();
let live = false;

/** How often a view asks again: not at all while changes are told. */
export const whileNotTold = (ms: number): number | false => (live ? false : ms);

/** Tells `listener` of every change from now on. @returns the way to end it */
export function onChanges(listener: ChangeListener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Resolves with the next change of a topic, or after a while (sooner where nothing is told), or with the signal. */
export function untilChange(
  topic: ChangeTopic,
  ms: { readonly told: number; readonly notTold: number },
  signal?: AbortSignal,
): Promise<void> {
  return new Promise((resolve) => {
    const done = (): void => {
      clearTimeout(timer);
      leave();
      signal?.removeEventListener('abort', done);
      resolve();
    };
    const timer = setTimeout(done, live ? ms.told : ms.notTold);
    const leave = onChanges({ changed: (each) => each.topic === topic && done(), missed: done });
    signal?.addEventListener('abort', done);
  });
}

/**
 * Keeps the channel of changes open (Server-Sent Events). A browser gives all windows of one server six connections together, so one of
 * them follows and tells the others; where it goes, the next takes over from the last event that it has heard. Without locks (a page
 * that is not encrypted and not on this machine) each window follows while it is visible.
 * @param keyId whose windows belong together
 * @returns the way to end it
 */
export function followChanges(keyId: string): () => void {
  const name = `oiseau-changes-${keyId}`;
  const others = new BroadcastChannel(name);
  const window = `${Date.now()}-${Math.random()}`;
  /** From here on this window knows of every change. */
  const knownSince = performance.timeOrigin;
  let kept: readonly { readonly at: number; readonly change: Change }[] = [];
  let last: number | null = null;
  let stream: (() => void) | null = null;
  let grace: ReturnType<typeof setTimeout> | undefined;
  const became = (now: boolean): void => {
    if (live === now) return;
    live = now;
    if (now) clearTimeout(grace);
    else grace = setTimeout(() => listeners.forEach((listener) => listener.missed()), GRACE_MS);
  };
  const hear = (word: Word): void => {
    switch (word.kind) {
      case 'change':
        last = word.id ?? last;
        kept = [...kept, { at: Date.now(), change: word.change }].slice(-MOST_KEPT);
        for (const listener of listeners) listener.changed(word.change);
        break;
      case 'missed':
        last = word.id ?? last;
        for (const listener of listeners) listener.missed();
        break;
      case 'live':
        became(word.live);
        break;
      case 'hello':
        if (stream) welcome(word);
        break;
      case 'welcome':
        if (word.to !== window) break;
        if (word.changes) word.changes.forEach((change) => listeners.forEach((each) => each.changed(change)));
        else for (const listener of listeners) listener.missed();
        break;
      default:
        word satisfies never;
    }
  };
  const welcome = ({ from: to, since }: Word & { readonly kind: 'hello' }): void => {
    const isKnown = since >= Math.max(knownSince, Date.now() - KEPT_MS) && kept.length < MOST_KEPT;
    const changes = isKnown ? kept.filter(({ at }) => at >= since).map(({ change }) => change) : null;
    others.postMessage({ kind: 'welcome', to, changes } satisfies Word);
    others.postMessage({ kind: 'live', live } satisfies Word);
  };
  others.onmessage = ({ data }: MessageEvent<Word>) => hear(data);
  const tell = (word: Word): void => {
    hear(word);
    others.postMessage(word);
  };
  const begin = (): void => {
    stream ??= openStream(() => last, tell);
  };
  const end = (): void => {
    stream?.();
    stream = null;
  };
  others.postMessage({ kind: 'hello', from: window, since: knownSince } satisfies Word);
  // Only encrypted pages and those of this machine have locks.
  const locks = navigator.locks as LockManager | null | undefined;
  const leave = locks ? leadInTurn(locks, name, begin, end) : followWhileVisible(begin, end);
  return () => {
    leave();
    if (stream) others.postMessage({ kind: 'live', live: false } satisfies Word);
    end();
    others.close();
    clearTimeout(grace);
    live = false;
  };
}

/** One window after the other holds the lock, and the channel with it. */
function leadInTurn(locks: LockManager, name: string, begin: () => void, end: () => void): () => void {
  const given = new AbortController();
  const held = new Promise<void>((resolve) => given.signal.addEventListener('abort', () => resolve()));
  locks
    .request(name, { signal: given.signal }, () => {
      begin();
      return held.finally(end);
    })
    // Leaving while waiting rejects the request.
    .catch(() => undefined);
  return () => given.abort();
}

function followWhileVisible(begin: () => void, end: () => void): () => void {
  const look = (): void => (document.hidden ? end() : begin());
  document.addEventListener('visibilitychange', look);
  look();
  return () => document.removeEventListener('visibilitychange', look);
}

/** @param last the event to resume from; null: what has changed since the page was asked for comes first */
function openStream(last: () => number | null, tell: (word: Word) => void): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let source: EventSource;
  const open = (): void => {
    const after = last();
    const sinceOpened = Math.min(Math.ceil(performance.now()), CHANGES_KEPT_MS);
    const query = after === null ? { within: sinceOpened } : { after };
    source = new EventSource(addressOf(CONTRACT.changes, { query }));
    source.onopen = () => tell({ kind: 'live', live: true });
    source.addEventListener('change', ({ data, lastEventId }: MessageEvent<string>) => {
      const read = change.safeParse(JSON.parse(data));
      if (read.success) tell({ kind: 'change', id: Number(lastEventId) || null, change: read.data });
    });
    source.addEventListener('reset', ({ lastEventId }: MessageEvent<string>) =>
      tell({ kind: 'missed', id: Number(lastEventId) || null }),
    );
    source.onerror = () => {
      tell({ kind: 'live', live: false });
      // The browser tries again by itself unless it was refused.
      if (source.readyState === EventSource.CLOSED) timer = setTimeout(open, AGAIN_MS);
    };
  };
  open();
  return () => {
    clearTimeout(timer);
    source.close();
    tell({ kind: 'live', live: false });
  };
}

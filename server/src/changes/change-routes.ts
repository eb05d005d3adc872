import { msg } from '@oiseau/messages';
import { CONTRACT, type Change } from '@oiseau/api';
import { Router, type Request, type Response } from 'express';
import type { Logger } from 'pino';
import { sessionToken } from '../access/access.js';
import { opensAlbum } from '../access/authorization.js';
import { visitorOf } from '../access/authentication.js';
import { holderOfSession } from '../access/key-repository.js';
import { serve } from '../access/serve.js';
import type { Visitor } from '../access/visitor.js';
import type { Database } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import { ChangeFeed, type ChangeReader, type Start } from './change-feed.js';

const EVENTS = 'text/event-stream';

/** A line without meaning goes out as often, so that proxies keep the connection and a reader that has gone is noticed; ms. */
const SIGN_OF_LIFE_MS = 15_000;
/** A reader that takes nothing any more is cut off here, in bytes that wait for it; it resumes where it was. */
const MOST_WAITING = 1_000_000;
/** Channels that one key may have open: one for each window. */
const MOST_CHANNELS = 100;

/** What changes, as Server-Sent Events (HTML Living Standard, 9.2). */
export function changeRoutes(db: Database, log: Logger): Router {
  const router = Router();
  const feed = new ChangeFeed(db, log);
  const channels = new Map<string, number>();

  /** Those changes that a key may be told of. */
  const opened = async (visitor: Visitor, changes: readonly Change[]): Promise<Change[]> => {
    const open = await Promise.all(
      changes.map(({ album }) => (album === null ? visitor.opensAll : opensAlbum(db, visitor, album))),
    );
    return changes.filter((_, i) => open[i]);
  };

  /** Goes on until the reader leaves. */
  const stream = async (request: Request, start: Start, response: Response): Promise<void> => {
    const visitor = visitorOf(request);
    const ended = new Promise<void>((resolve) => response.once('close', resolve));
    response.set({
      'Content-Type': 'text/event-stream; charset=utf-8',
      'Cache-Control': 'no-store, no-transform',
      // Proxies that gather an answer before they hand it on are asked not to.
      'X-Accel-Buffering': 'no',
    });
    const send = sender(response);
    const leave = await feed.subscribe(
      readerOf((changes) => opened(visitor, changes), send),
      start,
    );
    send('retry: 2000\n\n');
    const alive = setInterval(() => {
      send(': alive\n\n');
      void isSignedOut(db, request).then((out) => out && response.end());
    }, SIGN_OF_LIFE_MS);
    await ended;
    clearInterval(alive);
    leave();
  };

  serve(router, CONTRACT.changes, async ({ query }, request, response) => {
    const visitor = visitorOf(request);
    const header = Number(request.get('Last-Event-ID') ?? NaN);
    const after = Number.isSafeInteger(header) && header >= 0 ? header : query.after;
    const start = { after, within: query.within };
    const nothing = { last: 0, missed: false, changes: [] };
    if (request.method === 'HEAD') return nothing;
    if (request.accepts(['json', EVENTS]) !== EVENTS) {
      const since = await feed.since(start);
      return { ...since, changes: await opened(visitor, since.changes) };
    }
    const open = channels.get(visitor.keyId) ?? 0;
    if (open >= MOST_CHANNELS)
      throw new ApiError(
        429,
        msg('{most} windows are already open with this access. Close some.', { most: MOST_CHANNELS }),
      );
    channels.set(visitor.keyId, open + 1);
    try {
      await stream(request, start, response);
    } finally {
      const left = (channels.get(visitor.keyId) ?? 1) - 1;
      if (left > 0) channels.set(visitor.keyId, left);
      else channels.delete(visitor.keyId);
    }
    return nothing;
  });
  return router;
}

/** Whether a request came with a session that has ended since; a revoked key ends its requests itself. */
async function isSignedOut(db: Database, request: Request): Promise<boolean> {
  const token = sessionToken(request);
  // A database that is away says nothing of that.
  return token !== undefined && !(await holderOfSession(db, token).catch(() => true));
}

type Send = (text: string) => void;

const sender =
  (response: Response): Send =>
  (text) => {
    if (response.destroyed || response.writableEnded) return;
    if (response.writableLength > MOST_WAITING) response.destroy();
    else response.write(text);
  };

/** Sends changes as events, one batch after the other. @param opened those of them that the reader may be told */
function readerOf(
  opened: (changes: readonly Change[]) => Promise<readonly Change[]>,
  send: Send,
): ChangeReader {
  let before = Promise.resolve();
  return {
    changed(id, changes) {
      before = before.then(async () => {
        try {
          const told = await opened(changes);
          // The id stands in the last one alone: a break between two of them repeats them all.
          send(told.map((each, i) => event('change', each, i === told.length - 1 ? id : null)).join(''));
        } catch {
          send(event('reset', {}, id));
        }
      });
    },
    reset(id) {
      before = before.then(() => send(event('reset', {}, id)));
    },
  };
}

const event = (name: string, data: object, id: number | null): string =>
  `${id === null ? '' : `id: ${id}\n`}event: ${name}\ndata: ${JSON.stringify(data)}\n\n`;

import { ENDPOINTS } from '@oiseau/api';
import { parse } from 'cookie';
import type { Request, RequestHandler, Response } from 'express';
import type { Database } from '../db/database.js';
import type { ComputePool } from '../http/compute-pool.js';
import { isSecure } from '../http/guard.js';
import { failedTry, forgetTries } from './sign-in-throttle.js';
import { holderOfKey, holderOfSession } from './key-repository.js';
import { noKey, noteAccess } from './authentication.js';
import { noteOpen } from './open-requests.js';
import { invitationInPath, listenerOfRequest } from './listener-sign-in.js';
import { fromOf, type Visitor } from './visitor.js';

/** Calls that need no key: what trades one for a session. */
const OPEN = ENDPOINTS.filter(({ door }) => door === 'none');
const isOpen = ({ method, path }: Request): boolean =>
  OPEN.some((call) => call.method === method && call.path === path);

const DAY_MS = 86_400_000;

/** Cookies of one host are shared by all its ports: each installation has a name of its own. */
const cookieName = (request: Request): string => `oiseau-${request.socket.localPort ?? 0}`;

/** The session that a request shows. */
export function sessionToken(request: Request): string | undefined {
  const { cookie } = request.headers;
  return cookie === undefined ? undefined : parse(cookie)[cookieName(request)];
}

/** Gives the browser a session to keep, or takes it away. Scripts of the page can't read it, and no other site can have it sent. */
export function setSession(
  request: Request,
  response: Response,
  session: { token: string; days: number } | null,
): void {
  response.cookie(cookieName(request), session?.token ?? '', {
    path: '/',
    httpOnly: true,
    sameSite: 'strict',
    secure: isSecure(request),
    maxAge: session ? session.days * DAY_MS : 0,
  });
}

/** Who holds a key; a wrong one is counted, and its answer waits. @throws ApiError 401, 429 */
export async function visitorWithKey(db: Database, request: Request, key: string): Promise<Visitor> {
  const from = fromOf(request);
  const holder = await holderOfKey(db, key);
  if (holder) {
    await forgetTries(db, from);
    return { ...holder, from };
  }
  await failedTry(db, from);
  throw noKey();
}

async function visitorOfRequest(db: Database, request: Request): Promise<Visitor | undefined> {
  const [, key] = /^Bearer ([\w-]{1,200})$/.exec(request.headers.authorization ?? '') ?? [];
  if (key !== undefined) return visitorWithKey(db, request, key);
  const token = sessionToken(request);
  const holder = token === undefined ? undefined : await holderOfSession(db, token);
  return holder && { ...holder, from: fromOf(request) };
}

/**
 * Requests without a key or a session end here, before any body is read. Below `/listening` no key is of use: there only
 * who has come by the address of that very invitation is anybody.
 * @throws ApiError 401, 429
 */
export function access(db: Database, pool: ComputePool): RequestHandler {
  return async (request, response, next) => {
    if (invitationInPath(request) !== undefined) {
      noteAccess(request, { db, pool, listener: await listenerOfRequest(db, request) });
      next();
      return;
    }
    const visitor = isOpen(request) ? undefined : await visitorOfRequest(db, request);
    if (!visitor && !isOpen(request)) throw noKey();
    if (visitor) noteOpen(visitor.keyId, response);
    const token = sessionToken(request);
    if (visitor && token !== undefined) noteOpen(token, response);
    noteAccess(request, { db, pool, visitor });
    next();
  };
}

import { parse } from 'cookie';
import type { Request, Response } from 'express';
import type { Database } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import { isSecure } from '../http/guard.js';
import { recordEvent } from './events.js';
import { ALL_CALLERS, EACH_CALLER, failedTry, forgetTurns, takeTurn } from './sign-in-throttle.js';
import { beginListening, invitationWithSecret, listenerOfSession } from './invitation-repository.js';
import type { Listener } from './listener.js';
import { isPassword } from './password.js';
import { fromOf } from './visitor.js';

/** The calls of listeners, and the id of the invitation in each. */
const LISTENING = /^\/listening\/([0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12})(?:\/|$)/;

export const invitationInPath = ({ path }: Pick<Request, 'path'>): string | undefined =>
  LISTENING.exec(path)?.[1];

/** Cookies of one host are shared by all its ports. */
const cookieName = (request: Request): string => `oiseau-listen-${request.socket.localPort ?? 0}`;

/** The listener signed in for the invitation in the path; none for other paths. */
export async function listenerOfRequest(db: Database, request: Request): Promise<Listener | undefined> {
  const id = invitationInPath(request);
  const { cookie } = request.headers;
  const token = id !== undefined && cookie !== undefined ? parse(cookie)[cookieName(request)] : undefined;
  if (id === undefined || token === undefined) return undefined;
  const listener = await listenerOfSession(db, id, token);
  return listener && { ...listener, from: fromOf(request) };
}

const GONE = 'That link isn’t valid: it is incomplete or was revoked. Ask the sender.';

/** Why an address does not open, for the page: a password is asked for, it was another one, or its time is over. */
type Why = 'password' | 'wrong-password' | 'ended';
const refused = (status: 401 | 410, why: Why, words: string): ApiError =>
  new ApiError(status, words, { why });

/**
 * Signs a listener in who has the secret of an invitation, and its password where it has one. Tries of passwords are throttled for each
 * caller and for the invitation, right ones and wrong ones alike.
 * @throws ApiError 404, 410, 401, 429
 */
export async function signInListener(
  db: Database,
  request: Request,
  response: Response,
  { secret, password }: { readonly secret: string; readonly password: string | null },
): Promise<void> {
  const id = invitationInPath(request);
  const asked = id === undefined ? undefined : await invitationWithSecret(db, id, secret);
  if (!asked) {
    await failedTry(db, fromOf(request));
    throw new ApiError(404, GONE);
  }
  const { listener, hasEnded } = asked;
  const { invitationId } = listener;
  if (hasEnded) throw refused(410, 'ended', 'That link has expired. Ask the sender for a new one.');
  if (asked.password !== null) {
    if (password === null) throw refused(401, 'password', 'A password is required.');
    const subjects = [`password ${invitationId}`, `password ${invitationId} ${fromOf(request)}`] as const;
    await takeTurn(db, subjects[1], EACH_CALLER);
    await takeTurn(db, subjects[0], ALL_CALLERS);
    if (!(await isPassword(asked.password, password)))
      throw refused(401, 'wrong-password', 'That password isn’t right. Try again.');
    for (const subject of subjects) await forgetTurns(db, subject);
  }
  const { token, first } = await beginListening(db, invitationId);
  response.cookie(cookieName(request), token, {
    // No other invitation gets to see it, and no call of who has a key.
    ...{ path: `/api/listening/${invitationId}`, httpOnly: true, sameSite: 'strict' },
    secure: isSecure(request),
    expires: listener.endsAt,
  });
  if (first)
    await recordEvent(
      db,
      { from: fromOf(request), name: listener.name },
      { what: 'listened', album: listener.albumId },
    );
}

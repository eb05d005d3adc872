import { msg } from '@oiseau/messages';
import { mayDo, type Endpoint, type Right, type Role } from '@oiseau/api';
import type { Request } from 'express';
import type { Db } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import type { ComputePool } from '../http/compute-pool.js';
import { enter } from './authorization.js';
import type { Listener } from './listener.js';
import type { Visitor } from './visitor.js';

/** A request that has come in. */
interface RequestAccess {
  readonly db: Db;
  readonly pool: ComputePool;
  /** undefined: a call that needs no key. */
  readonly visitor?: Visitor | undefined;
  /** Who has come by the address of the invitation that the path names. */
  readonly listener?: Listener | undefined;
}

const accessOf = new WeakMap<Request, RequestAccess>();

export const noteAccess = (request: Request, access: RequestAccess): void =>
  void accessOf.set(request, access);

/** @throws ApiError 401 without a key */
export function visitorOf(request: Request): Visitor {
  const visitor = accessOf.get(request)?.visitor;
  if (!visitor) throw noKey();
  return visitor;
}

/** @throws ApiError 401 without a listener's session */
export function listenerOf(request: Request): Listener {
  const listener = accessOf.get(request)?.listener;
  if (!listener) throw notOpen();
  return listener;
}

/** Who does the heavy work of a request. */
export function poolOf(request: Request): ComputePool {
  const access = accessOf.get(request);
  if (!access) throw noKey();
  return access.pool;
}

/** Lets a request through the door of its call. @throws ApiError 401 without a key, 403 without the right, 404 for what is not there or not open */
export async function admit(request: Request, { door, right, unlimited }: Endpoint): Promise<void> {
  const access = accessOf.get(request);
  if (!access) throw noKey();
  if (door === 'none') return;
  if (door === 'listener') {
    // The cookie of one invitation opens no other.
    if (listenerOf(request).invitationId !== request.params.id) throw notOpen();
    return;
  }
  const visitor = visitorOf(request);
  demandRight(visitor, right);
  if (unlimited) demandUnlimited(visitor);
  await enter(access.db, door, visitor, request.params as Readonly<Record<string, string>>);
}

export const noKey = (): ApiError =>
  new ApiError(
    401,
    msg('Sign in first: open the link Oiseau printed when it started, or the one you were given.'),
  );

const notOpen = (): ApiError =>
  new ApiError(401, msg('That link isn’t complete. Open the whole link, including the part after #.'));

/** @throws ApiError 403 for a key that is limited to some albums */
export function demandUnlimited({ opensAll }: Visitor): void {
  if (!opensAll)
    throw new ApiError(
      403,
      msg(
        'This applies to all albums, but your access is limited to some. Ask someone with access to all albums.',
      ),
    );
}

/** @throws ApiError 403 where the visitor's role does not allow it */
export function demandRight(visitor: Visitor, right: Right): void {
  if (!mayDo(visitor.role, right))
    throw new ApiError(
      403,
      msg('Your access doesn’t allow this: it is {role}.', { role: ROLE_WORDS[visitor.role] }),
    );
}

const ROLE_WORDS = {
  engineer: 'an engineer’s',
  assistant: 'an assistant’s, without deleting and managing access',
  guest: 'a guest’s, for listening and adding notes',
} as const satisfies Record<Role, string>;

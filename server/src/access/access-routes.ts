import { msg } from '@oiseau/messages';
import { randomUUID } from 'node:crypto';
import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { sessionToken, setSession, visitorWithKey } from './access.js';
import { listEvents, recordEvent } from './events.js';
import {
  beginSession,
  endSession,
  insertKey,
  isShared,
  listKeys,
  newSecret,
  renameKey,
  takeBackKey,
} from './key-repository.js';
import { serve } from './serve.js';
import { demandAlbum } from './authorization.js';
import { demandUnlimited, visitorOf } from './authentication.js';
import { endRequestsOf } from './open-requests.js';
import { FIRST_KEY, type Visitor } from './visitor.js';

/** Uploads that a revoked key leaves behind. */
interface KeyUploads {
  forgetAllOf(keyId: string): Promise<void>;
}

/** Keys, sessions and activity. */
export function accessRoutes(db: Database, uploads: KeyUploads): Router {
  const router = Router();

  const told = async ({ keyId, name, role, opensAll }: Visitor) => ({
    ...{ name, role, first: keyId === FIRST_KEY },
    id: keyId,
    unlimited: opensAll,
    shared: await isShared(db),
  });

  serve(router, CONTRACT.session, (_given, request) => told(visitorOf(request)));

  serve(router, CONTRACT.signIn, async ({ body }, request, response) => {
    const visitor = await visitorWithKey(db, request, body.key);
    setSession(request, response, await beginSession(db, visitor.keyId));
    await recordEvent(db, visitor, { what: 'signed-in' });
    return told(visitor);
  });

  serve(router, CONTRACT.signOut, async (_given, request, response) => {
    const token = sessionToken(request);
    if (token !== undefined) {
      await endSession(db, token);
      endRequestsOf(token, response);
    }
    setSession(request, response, null);
  });

  serve(router, CONTRACT.keys, (_given, request) => listKeys(db, visitorOf(request)));

  serve(router, CONTRACT.makeKey, async ({ body }, request) => {
    const visitor = visitorOf(request);
    // A key grants no more than it has.
    if (body.albums === null) demandUnlimited(visitor);
    for (const album of body.albums ?? []) await demandAlbum(db, visitor, album);
    const [id, key] = [randomUUID(), newSecret()];
    await insertKey(db, { id, ...body }, key, visitor.keyId);
    await recordEvent(db, visitor, { what: 'key-made', detail: `${body.name}, ${body.role}` });
    return { id, key };
  });

  serve(router, CONTRACT.nameKey, ({ params, body }) => renameKey(db, params.id, body.name));

  serve(router, CONTRACT.takeBackKey, async ({ params }, request) => {
    const visitor = visitorOf(request);
    if (params.id === FIRST_KEY)
      throw new ApiError(
        409,
        msg(
          'The administrator’s key can’t be revoked here. To replace it, delete its file and restart Oiseau.',
        ),
      );
    if (params.id === visitor.keyId) throw new ApiError(409, msg('You can’t revoke your own access.'));
    const name = await takeBackKey(db, params.id);
    if (name === undefined) throw notFound('key');
    endRequestsOf(params.id);
    await uploads.forgetAllOf(params.id);
    await recordEvent(db, visitor, { what: 'key-taken-back', detail: name });
  });

  serve(router, CONTRACT.events, ({ query }, request) => listEvents(db, visitorOf(request), query));

  serve(router, CONTRACT.albumEvents, ({ params, query }, request) =>
    listEvents(db, visitorOf(request), { ...query, album: params.id }),
  );

  return router;
}

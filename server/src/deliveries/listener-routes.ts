import { CONTRACT } from '@oiseau/api';
import { Router, type Request } from 'express';
import { signInListener } from '../access/listener-sign-in.js';
import { listenerOf } from '../access/authentication.js';
import { serve } from '../access/serve.js';
import { findRevision } from '../albums/revision-repository.js';
import type { Database } from '../db/database.js';
import { notFound } from '../http/api-error.js';
import { sendFile } from '../http/send-file.js';
import type { ComputePool } from '../http/compute-pool.js';
import type { MediaStore } from '../media/media-store.js';
import { findPicture } from '../media/picture-repository.js';
import { heardOf, sendOutline } from './heard.js';
import { listeningPage } from './listening-page.js';
import { demandRendered, type Rendered } from './rendered.js';

/** The page of a listener and its sound. Each call is about the delivery of the invitation, whatever it names. */
export function listenerRoutes(db: Database, media: MediaStore, pool: ComputePool): Router {
  const router = Router();
  const renderedFor = (request: Request): Promise<Rendered> =>
    demandRendered(db, media, listenerOf(request).deliveryId);

  serve(router, CONTRACT.signInListener, ({ body }, request, response) =>
    signInListener(db, request, response, body),
  );

  serve(router, CONTRACT.listeningPage, async (_given, request) =>
    listeningPage(db, listenerOf(request), await renderedFor(request)),
  );

  serve(router, CONTRACT.listeningCover, async (_given, request, response) => {
    const { delivery } = await renderedFor(request);
    const album = await findRevision(db, delivery.albumId, delivery.revision);
    const picture = album?.artwork ? await findPicture(db, album.artwork) : undefined;
    if (!picture) throw notFound('cover');
    response.type(picture.mediaType);
    sendFile(response, media.file(picture.sha256));
  });

  serve(router, CONTRACT.listeningHeard, async ({ params }, request) => {
    const { info } = await heardOf(media, await renderedFor(request), params.path);
    return { info };
  });
  serve(router, CONTRACT.listeningAudio, async ({ params }, request, response) => {
    const { file } = await heardOf(media, await renderedFor(request), params.path);
    response.type('application/octet-stream');
    sendFile(response, file);
  });
  serve(router, CONTRACT.listeningOutline, async ({ params, query }, request, response) => {
    const heard = await heardOf(media, await renderedFor(request), params.path);
    await sendOutline(response, media, pool, heard, query.step);
  });

  return router;
}

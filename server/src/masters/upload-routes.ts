import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import { Router, type RequestHandler } from 'express';
import type { MediaStore } from '../media/media-store.js';

/** Where uploads by pieces live, below `/api`. */
const PATH = '/uploads';

/**
 * Uploads by pieces: the open protocol tus 1.0.0. What has arrived stays over a broken line, a closed window or a restart of the
 * server, and goes on from there.
 */
export function uploadRoutes(media: MediaStore): Router {
  const server = new Server({
    path: `/api${PATH}`,
    // Addresses without a host, so that a proxy in between does no harm.
    relativeLocation: true,
    datastore: new FileStore({ directory: media.uploads }),
  });
  const handle: RequestHandler = (request, response, next) => {
    // Inside a mounted router Express has taken the mount path off; the protocol's library wants the address as it came.
    request.url = request.originalUrl;
    server.handle(request, response).catch(next);
  };
  const router = Router();
  router.all(PATH, handle);
  router.all(`${PATH}/:id`, handle);
  return router;
}

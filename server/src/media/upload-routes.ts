import { Router, type Request, type RequestHandler, type Response } from 'express';
import { demandRight, visitorOf } from '../access/authentication.js';
import { UPLOADS, type Uploads } from './uploads.js';

/** The methods of the protocol that uploads need, and no other. */
export function uploadRoutes(uploads: Uploads): Router {
  const router = Router();
  const served =
    (work: (request: Request, response: Response) => Promise<void>): RequestHandler =>
    async (request, response) => {
      demandRight(visitorOf(request), 'work');
      // Inside a mounted router Express has taken the mount path off; the protocol's library wants the address as it came.
      request.url = request.originalUrl;
      await work(request, response);
    };
  const goOn = served((request, response) => uploads.goOn(request, response));
  router.post(
    UPLOADS,
    served((request, response) => uploads.begin(request, response)),
  );
  router.head(`${UPLOADS}/:id`, goOn);
  router.patch(`${UPLOADS}/:id`, goOn);
  router.delete(`${UPLOADS}/:id`, goOn);
  return router;
}

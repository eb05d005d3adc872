import { coverFacts } from '@oiseau/host';
import { Router } from 'express';
import { z } from 'zod';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import type { MediaStore } from './media-store.js';
import { keepPicture } from './picture-intake.js';
import { findPicture } from './picture-repository.js';

const MOST_BYTES = 30 * 1024 * 1024;

/** Covers: JPEG or PNG, told by their first bytes and not by what somebody calls them. */
export function pictureRoutes(db: Database, media: MediaStore): Router {
  const router = Router();

  router.post('/pictures', async (request, response) => {
    const { name } = z.object({ name: z.string().min(1).max(500) }).parse(request.query);
    const arrival = await media.receive(request, MOST_BYTES).catch((error: unknown) => {
      if (error instanceof RangeError)
        throw new ApiError(413, `“${name}” is larger than 30 MB.`, {}, { cause: error });
      throw error;
    });
    if (!(await keepPicture(db, media, arrival, name)))
      throw new ApiError(415, `“${name}” is neither a JPEG nor a PNG picture.`);
    response.status(201).json({ sha256: arrival.sha256 });
  });

  router.get('/pictures/:sha256', async (request, response) => {
    const picture = await findPicture(db, request.params.sha256);
    if (!picture) throw notFound('picture');
    response.type(picture.mediaType).set('Cache-Control', 'public, max-age=31536000, immutable');
    response.sendFile(media.file(picture.sha256));
  });

  /** Size, colours and weight, for the checks. */
  router.get('/pictures/:sha256/facts', async (request, response) => {
    const picture = await findPicture(db, request.params.sha256);
    const facts = picture && (await coverFacts(media.file(picture.sha256)));
    if (!facts) throw notFound('picture');
    response.set('Cache-Control', 'public, max-age=31536000, immutable').json(facts);
  });

  return router;
}

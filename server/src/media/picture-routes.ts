import { CONTRACT } from '@oiseau/api';
import { coverFacts, MOST_COVER_BYTES, thumbnail } from '@oiseau/host';
import { Router } from 'express';
import { LRUCache } from 'lru-cache';
import type { Database } from '../db/database.js';
import { notFound } from '../http/api-error.js';
import { noteBrought } from '../access/authorization.js';
import { serve } from '../access/serve.js';
import { visitorOf } from '../access/authentication.js';
import { IMMUTABLE, sendFile } from '../http/send-file.js';
import type { MediaStore } from './media-store.js';
import { keepPicture, tooHeavy } from './picture-intake.js';
import { findPicture } from './picture-repository.js';

/** Small copies that are kept at hand, in bytes together. */
const THUMBNAIL_BYTES = 16 * 1024 * 1024;

/** Covers: JPEG or PNG, recognised by their first bytes, not by name or type. */
export function pictureRoutes(db: Database, media: MediaStore): Router {
  const router = Router();

  serve(router, CONTRACT.sendPicture, async ({ query: { name } }, request) => {
    const arrival = await media.receive(request, MOST_COVER_BYTES).catch((error: unknown) => {
      throw error instanceof RangeError ? tooHeavy(name, error) : error;
    });
    await keepPicture(db, media, arrival, name);
    await noteBrought(db, visitorOf(request), arrival.sha256);
    return { sha256: arrival.sha256 };
  });

  /** The most recently requested small copies; browsers keep them for good. */
  const thumbnails = new LRUCache<string, Buffer>({
    maxSize: THUMBNAIL_BYTES,
    sizeCalculation: ({ length }) => length,
  });

  serve(router, CONTRACT.picture, async ({ params, query: { pixels } }, _request, response) => {
    const picture = await findPicture(db, params.sha256);
    if (!picture) throw notFound('picture');
    response.set('Cache-Control', IMMUTABLE);
    if (pixels !== undefined) {
      const key = `${picture.sha256} ${pixels}`;
      const small = thumbnails.get(key) ?? Buffer.from(await thumbnail(media.file(picture.sha256), pixels));
      thumbnails.set(key, small);
      return void response.type('image/jpeg').send(small);
    }
    response.type(picture.mediaType);
    sendFile(response, media.file(picture.sha256));
  });

  serve(router, CONTRACT.coverFacts, async ({ params }, _request, response) => {
    const picture = await findPicture(db, params.sha256);
    const facts = picture && (await coverFacts(media.file(picture.sha256)));
    if (!facts) throw notFound('picture');
    response.set('Cache-Control', IMMUTABLE);
    return facts;
  });

  return router;
}

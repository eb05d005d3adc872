import { open } from 'node:fs/promises';
import { Router } from 'express';
import { z } from 'zod';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import type { MediaStore } from './media-store.js';
import { findPicture, insertPicture } from './picture-repository.js';

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
    const mediaType = await mediaTypeOf(arrival.path);
    if (!mediaType) {
      await media.discard(arrival);
      throw new ApiError(415, `“${name}” is neither a JPEG nor a PNG picture.`);
    }
    await media.keep(arrival);
    await insertPicture(db, { sha256: arrival.sha256, mediaType }, name, arrival.bytes);
    response.status(201).json({ sha256: arrival.sha256 });
  });

  router.get('/pictures/:sha256', async (request, response) => {
    const picture = await findPicture(db, request.params.sha256);
    if (!picture) throw notFound('picture');
    response.type(picture.mediaType).set('Cache-Control', 'public, max-age=31536000, immutable');
    response.sendFile(media.file(picture.sha256));
  });

  return router;
}

async function mediaTypeOf(path: string): Promise<string | undefined> {
  const file = await open(path, 'r');
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(8), 0, 8, 0);
    const hex = buffer.subarray(0, bytesRead).toString('hex');
    if (hex.startsWith('ffd8ff')) return 'image/jpeg';
    return hex === '89504e470d0a1a0a' ? 'image/png' : undefined;
  } finally {
    await file.close();
  }
}

import { msg } from '@oiseau/messages';
import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import * as z from 'zod';
import { albumFromImage, ImageUnusable } from '@oiseau/formats/cutting';
import { safeFileName } from '@oiseau/album/model';
import type { DiscImage } from '@oiseau/formats/disc';
import { insertAlbum } from '../albums/album-repository.js';
import { openTo } from '../access/authorization.js';
import { visitorOf } from '../access/authentication.js';
import type { Visitor } from '../access/visitor.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import type { ComputePool } from '../http/compute-pool.js';
import { serve } from '../access/serve.js';
import type { Intake } from '../masters/intake.js';
import { linkMaster } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import type { Claimed, Uploads } from '../media/uploads.js';
import { receiveImageAudio } from './image-audio.js';

/** In the folder of an opened image: the key it was opened with. No file of an image has this name, which `safeFileName` would not give. */
const OWNER = '.owner';

/** Disc images that others made: opened, judged, and taken in as albums. They lie here for a day. */
export function imageRoutes(
  db: Database,
  media: MediaStore,
  uploads: Uploads,
  intake: Intake,
  pool: ComputePool,
): Router {
  const router = Router();

  serve(router, CONTRACT.openImage, async ({ body: { files } }, request) => {
    const visitor = visitorOf(request);
    const claimed: Claimed[] = [];
    const id = randomUUID();
    const folder = media.image(id);
    try {
      for (const { upload } of files) claimed.push(await uploads.claim(visitor, upload));
      // Names become paths inside a folder of their own: none may lead out of it, or be another’s.
      const odd = files.find(({ name }) => name !== safeFileName(name));
      if (odd) throw new ApiError(422, msg('“{name}” isn’t a valid file name.', { name: odd.name }));
      if (new Set(files.map(({ name }) => name.toLowerCase())).size < files.length)
        throw new ApiError(422, msg('Two files have the same name.'));
      await mkdir(folder, { recursive: true });
      await writeFile(join(folder, OWNER), visitor.keyId);
      for (const [i, { path }] of claimed.entries()) await rename(path, join(folder, files[i]?.name ?? ''));
      const image = await read(folder);
      return { id, image };
    } catch (error) {
      await rm(folder, { recursive: true, force: true });
      throw error;
    } finally {
      await Promise.all(claimed.map((each) => each.forget()));
    }
  });

  serve(router, CONTRACT.image, async ({ params: { id } }, request) => ({
    id,
    image: await read(await found(visitorOf(request), id)),
  }));

  serve(router, CONTRACT.forgetImage, async ({ params }, request) =>
    rm(await found(visitorOf(request), params.id), { recursive: true, force: true }),
  );

  /** Takes the image in: its audio as one master, its marks as tracks of that. */
  serve(router, CONTRACT.takeImage, async ({ params }, request) => {
    const visitor = visitorOf(request);
    const folder = await found(visitor, params.id);
    const image = await read(folder);
    const { sha256, name } = await receiveImageAudio(intake, visitor, folder, image);
    const album = usable(() => albumFromImage(image, sha256, () => randomUUID()));
    const id = randomUUID();
    await db.transaction(async (transaction) => {
      await insertAlbum(transaction, id, album);
      await openTo(transaction, visitor, id);
      await linkMaster(transaction, id, sha256, name);
    });
    return { id };
  });

  async function read(folder: string): Promise<DiscImage> {
    const opened = await pool.openImage(folder);
    if ('image' in opened) return opened.image;
    throw new ApiError(422, msg('This isn’t a disc image: {none}', { none: opened.none }));
  }

  /** The folder of an image that was opened with this very key. @throws ApiError 404 */
  async function found({ keyId }: Visitor, id: string): Promise<string> {
    if (!z.uuid().safeParse(id).success) throw notFound('image');
    const folder = media.image(id);
    const owner = await readFile(join(folder, OWNER), 'utf8').catch(() => undefined);
    if (owner !== keyId) throw notFound('image');
    return folder;
  }

  return router;
}

function usable<T>(make: () => T): T {
  try {
    return make();
  } catch (error) {
    if (error instanceof ImageUnusable) throw new ApiError(422, error.message, {}, { cause: error });
    throw error;
  }
}

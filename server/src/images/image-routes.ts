import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import * as z from 'zod';
import { albumFromImage, ImageUnusable } from '@oiseau/formats/cutting';
import { encodeWords, wavHeader, WORD_BYTES, type PcmSource } from '@oiseau/audio/pcm';
import { safeFileName } from '@oiseau/album/model';
import type { DiscImage } from '@oiseau/formats/disc';
import { openImage } from '@oiseau/host';
import { insertAlbum } from '../albums/album-repository.js';
import { openTo } from '../access/authorization.js';
import { visitorOf } from '../access/entrance.js';
import type { Visitor } from '../access/visitor.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import type { ComputePool } from '../http/compute-pool.js';
import { serve } from '../access/serve.js';
import type { Intake } from '../masters/intake.js';
import { linkMaster } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import type { Claimed, Uploads } from '../media/uploads.js';

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
      if (odd) throw new ApiError(422, `“${odd.name}” is no plain file name.`);
      if (new Set(files.map(({ name }) => name.toLowerCase())).size < files.length)
        throw new ApiError(422, 'Two of the files have one name.');
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
    if (!image.audio) throw new ApiError(422, 'The image names no audio.');
    const path = join(folder, image.audio.path);
    const bare = /\.(dat|bin)$/i.test(path);
    const name =
      bare || image.audio.more ? `${safeFileName(image.text.title ?? 'Disc image')}.wav` : image.audio.path;
    const { sha256 } = await (image.audio.more
      ? receiveJoined(visitor, folder, name)
      : intake.receive(
          visitor,
          { name, mono: false },
          bare ? await withHead(path) : createReadStream(path),
          (await stat(path)).size,
        ));
    const album = usable(() => albumFromImage(image, sha256, () => randomUUID()));
    const id = randomUUID();
    await db.transaction(async (transaction) => {
      await insertAlbum(transaction, id, album);
      await openTo(transaction, visitor, id);
      await linkMaster(transaction, id, sha256, name);
    });
    return { id };
  });

  /** Several files of a cue sheet as the one master that they are together. */
  async function receiveJoined(visitor: Visitor, folder: string, name: string) {
    const { audio, close } = await openImage(folder);
    try {
      if (!audio) throw new ApiError(422, 'The files of the image can’t be joined.');
      const { format, rate, length } = audio;
      const head = wavHeader(format, rate, length);
      const size = head.length + length * 2 * WORD_BYTES[format];
      return await intake.receive(visitor, { name, mono: false }, Readable.from(wordsOf(head, audio)), size);
    } finally {
      await close();
    }
  }

  async function read(folder: string): Promise<DiscImage> {
    const opened = await pool.openImage(folder);
    if ('image' in opened) return opened.image;
    throw new ApiError(422, `This is no disc image: ${opened.none}`);
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

async function* wordsOf(head: Uint8Array, audio: PcmSource): AsyncGenerator<Uint8Array> {
  yield head;
  for (let at = 0; at < audio.length; at += JOINED_BLOCK)
    yield encodeWords(await audio.read(at, Math.min(JOINED_BLOCK, audio.length - at)), audio.format);
}
/** Samples at a time. */
const JOINED_BLOCK = 16_384;

/** The bare words of an image as a WAV file. */
async function withHead(path: string): Promise<Readable> {
  const { size } = await stat(path);
  const length = Math.floor(size / 4);
  async function* parts(): AsyncGenerator<Uint8Array> {
    yield wavHeader('int16', 44_100, length);
    yield* createReadStream(path, { end: Math.max(0, length * 4 - 1) }) as AsyncIterable<Buffer>;
  }
  return Readable.from(parts());
}

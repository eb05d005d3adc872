import { msg } from '@oiseau/messages';
import { readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { systemCode } from '@oiseau/host';
import { FileStore } from '@tus/file-store';
import { MemoryLocker, Server } from '@tus/server';
import type { Request, Response } from 'express';
import pLimit from 'p-limit';
import * as z from 'zod';
import { visitorOf } from '../access/authentication.js';
import { FIRST_KEY, type Visitor } from '../access/visitor.js';
import { ApiError, notFound } from '../http/api-error.js';
import type { MediaStore } from './media-store.js';

/** Where uploads by pieces live, below `/api`. */
export const UPLOADS = '/uploads';
/** Unfinished uploads that one key may have at the same time. */
const MOST_OPEN = 200;
/** The largest file: two days of 192 kHz in 64-bit words. */
const MOST_BYTES = 550e9;
/** An upload is abandoned after so long without a request. */
const STALE_MS = 24 * 3600 * 1000;
/** What was taken out of reach, while it is judged. */
const TAKEN = '.taken';
const ID = /^[0-9a-f]{32}$/;

/** What lies beside the bytes of an upload, as the store of the protocol writes it. */
const record = z.object({
  size: z.int().min(0),
  // What was begun before there were keys belongs to the first.
  metadata: z.object({ owner: z.string().default(FIRST_KEY) }).default({ owner: FIRST_KEY }),
});

/** An upload that has arrived whole and can't change any more: `forget` or `giveBack` it. */
export interface Claimed {
  readonly path: string;
  /** It was taken in, or refused for a fault of its own. */
  forget(): Promise<void>;
  /** It may be asked for again. */
  giveBack(): Promise<void>;
}

/** An upload that a job takes in: a restart of the server leaves it where it is. */
const HANDED_OVER = '.job';

/** What was handed over to a job. */
export function handedOver(media: MediaStore, id: string): Claimed {
  const path = join(media.uploads, id);
  return claimedAt(path, `${path}${HANDED_OVER}`);
}

const claimedAt = (path: string, taken: string): Claimed => ({
  path: taken,
  forget: async () => {
    await rm(taken, { force: true });
    await rm(`${path}.json`, { force: true });
  },
  giveBack: async () => rename(taken, path),
});

/**
 * Uploads by pieces: the open protocol tus 1.0.0. What has arrived stays over a broken line, a closed window or a restart of the server, and
 * goes on from there. An upload belongs to the key that began it.
 */
export class Uploads {
  readonly #locker = new MemoryLocker();
  readonly #beginning = pLimit(1);
  readonly #server: Server;

  constructor(readonly media: MediaStore) {
    this.#server = new Server({
      path: `/api${UPLOADS}`,
      // Addresses without a host, so that a proxy in between does no harm.
      relativeLocation: true,
      datastore: new FileStore({ directory: media.uploads }),
      locker: this.#locker,
      maxSize: MOST_BYTES,
      allowedOrigins: () => false,
      getFileIdFromRequest: (_request, last) => (last !== undefined && ID.test(last) ? last : undefined),
      onUploadCreate: async (request, upload) => {
        const owner = visitorOf(request.runtime?.node?.req as Request).keyId;
        return Promise.resolve({ metadata: { ...upload.metadata, owner } });
      },
    });
  }

  /** Begins an upload. @throws ApiError 400, 429, 507 */
  async begin(request: Request, response: Response): Promise<void> {
    const bytes = Number(request.headers['upload-length']);
    if (!Number.isSafeInteger(bytes) || bytes < 0) throw new ApiError(400, msg('The upload has no length.'));
    await this.media.demandReady();
    // One after the other, or many at once would each find room for one more.
    await this.#beginning(() => this.#begin(request, response, bytes));
  }

  async #begin(request: Request, response: Response, bytes: number): Promise<void> {
    const open = await this.#open();
    const { keyId } = visitorOf(request);
    if (open.filter(({ owner }) => owner === keyId).length >= MOST_OPEN)
      throw new ApiError(
        429,
        msg('{most} uploads are already in progress. Finish some of them first.', { most: MOST_OPEN }),
      );
    const promised = open.reduce((sum, { left }) => sum + left, 0);
    await this.media.demandRoom(promised + bytes);
    await this.#server.handle(request, response);
  }

  /** Goes on with an upload, tells how far it is, or ends it. @throws ApiError 404 */
  async goOn(request: Request, response: Response): Promise<void> {
    await this.media.demandReady();
    await this.#demand(visitorOf(request), String(request.params.id));
    await this.#server.handle(request, response);
  }

  /** Bytes that an upload brings. @throws ApiError 404 */
  async sizeOf(visitor: Visitor, id: string): Promise<number> {
    return (await this.#demand(visitor, id)).size;
  }

  /** Ends every upload of a key that was revoked. */
  async forgetAllOf(keyId: string): Promise<void> {
    const names = await readdir(this.media.uploads).catch(() => []);
    for (const id of names.filter((name) => ID.test(name))) {
      if ((await this.#record(id))?.metadata.owner !== keyId) continue;
      const path = join(this.media.uploads, id);
      await rm(path, { force: true });
      await rm(`${path}.json`, { force: true });
    }
  }

  /** Takes an upload out of reach of its sender. @throws ApiError 404, 409 where it is not whole */
  async claim(visitor: Visitor, id: string): Promise<Claimed> {
    const { size } = await this.#demand(visitor, id);
    const path = join(this.media.uploads, id);
    if ((await sizeOf(path)) !== size) throw new ApiError(409, msg('The upload isn’t complete yet.'));
    const lock = this.#locker.newLock(id);
    await lock.lock(new AbortController().signal, () => undefined);
    const taken = `${path}${TAKEN}`;
    try {
      await rename(path, taken).catch((cause: unknown) => {
        throw systemCode(cause) === 'ENOENT' ? notFound('upload') : cause;
      });
      // It can't be opened or locked any more: its content is final.
      if ((await sizeOf(taken)) !== size) {
        await rename(taken, path);
        throw new ApiError(409, msg('The upload isn’t complete yet.'));
      }
    } finally {
      await lock.unlock();
    }
    return claimedAt(path, taken);
  }

  /** Leaves what was claimed to a job. @returns as the job has it */
  async handOver(claimed: Claimed, id: string): Promise<Claimed> {
    const given = handedOver(this.media, id);
    await rename(claimed.path, given.path);
    return given;
  }

  /** What a killed server had taken out of reach can be asked for again. To be called before anything is served. */
  async prepare(): Promise<void> {
    for (const name of await readdir(this.media.uploads))
      if (name.endsWith(TAKEN))
        await rename(join(this.media.uploads, name), join(this.media.uploads, name.slice(0, -TAKEN.length)));
  }

  /** Deletes uploads untouched for a day, each with its record. */
  async sweep(now = Date.now()): Promise<void> {
    const names = await readdir(this.media.uploads);
    for (const id of new Set(names.map((name) => name.slice(0, 32)))) {
      const paths = names.filter((name) => name.startsWith(id)).map((name) => join(this.media.uploads, name));
      const times = await Promise.all(
        paths.map(async (path) => (await stat(path).catch(() => null))?.mtimeMs ?? 0),
      );
      if (now - Math.max(...times) < STALE_MS) continue;
      for (const path of paths) await rm(path, { force: true });
    }
  }

  async #demand({ keyId }: Visitor, id: string): Promise<{ size: number }> {
    const found = ID.test(id) ? await this.#record(id) : undefined;
    if (found?.metadata.owner !== keyId) throw notFound('upload');
    return found;
  }

  async #record(id: string): Promise<z.output<typeof record> | undefined> {
    try {
      return record.parse(JSON.parse(await readFile(join(this.media.uploads, `${id}.json`), 'utf8')));
    } catch {
      return undefined;
    }
  }

  /** Uploads that have not arrived whole, and what each still has to bring. */
  async #open(): Promise<{ owner: string; left: number }[]> {
    const ids = (await readdir(this.media.uploads)).filter((name) => ID.test(name));
    const found = await Promise.all(
      ids.map(async (id) => {
        const known = await this.#record(id);
        const left = (known?.size ?? 0) - (await sizeOf(join(this.media.uploads, id)));
        return known && left > 0 ? [{ owner: known.metadata.owner, left }] : [];
      }),
    );
    return found.flat();
  }
}

const sizeOf = async (path: string): Promise<number> => (await stat(path).catch(() => null))?.size ?? 0;

import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

/** A file that has arrived but has no place yet: `keep` or `discard` it. */
export interface Arrival {
  readonly path: string;
  readonly sha256: string;
  readonly bytes: number;
}

/** How long a file may lie in `incoming/` before it counts as left behind by a killed server. */
const STALE_MS = 24 * 3600 * 1000;

/**
 * Files by content. Everything is streamed; names from people are never part of a path.
 *
 *     media/incoming/<random>          on its way in
 *     media/files/ab/ab12…             masters and pictures, named by their SHA-256
 *     media/deliveries/<id>/<name>/    what was rendered
 */
export class MediaStore {
  constructor(readonly root: string) {}

  async prepare(): Promise<void> {
    const incoming = join(this.root, 'incoming');
    await mkdir(incoming, { recursive: true });
    for (const name of await readdir(incoming)) {
      const path = join(incoming, name);
      if (Date.now() - (await stat(path)).mtimeMs > STALE_MS) await rm(path, { force: true });
    }
  }

  /** Streams to disk while hashing; leaves nothing behind when the stream breaks or grows over `limit` bytes. */
  async receive(stream: Readable, limit = Infinity): Promise<Arrival> {
    const path = join(this.root, 'incoming', randomUUID());
    const hash = createHash('sha256');
    let bytes = 0;
    const count = new Transform({
      transform(chunk: Buffer, _encoding, done) {
        hash.update(chunk);
        bytes += chunk.length;
        done(bytes > limit ? new RangeError(`more than ${limit} bytes`) : null, chunk);
      },
    });
    try {
      await pipeline(stream, count, createWriteStream(path, { flags: 'wx' }));
    } catch (error) {
      await rm(path, { force: true });
      throw error;
    }
    return { path, sha256: hash.digest('hex'), bytes };
  }

  /** Moves an arrival to its place; the same content is stored once. */
  async keep(arrival: Arrival): Promise<void> {
    await mkdir(join(this.root, 'files', arrival.sha256.slice(0, 2)), { recursive: true });
    await rename(arrival.path, this.file(arrival.sha256));
  }

  discard(arrival: Arrival): Promise<void> {
    return rm(arrival.path, { force: true });
  }

  /** Where a file of this content lies (or would lie). */
  file(sha256: string): string {
    if (!/^[0-9a-f]{64}$/.test(sha256)) throw new RangeError('not a SHA-256');
    return join(this.root, 'files', sha256.slice(0, 2), sha256);
  }

  /** The folder of a delivery; `id` is made by the server. */
  delivery(id: string): string {
    if (!/^[0-9a-f-]{36}$/.test(id)) throw new RangeError('not a delivery');
    return join(this.root, 'deliveries', id);
  }
}

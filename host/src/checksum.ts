import { Worker } from 'node:worker_threads';
import { crc32 } from 'node:zlib';
import type { DigestAlgorithm, Hasher } from '@oiseau/core';

/** CRC-32 of ISO 3309: several times as fast as a cryptographic checksum, and enough to find what went wrong by itself. */
export function crc32Hasher(): Hasher {
  let value = 0;
  return {
    update: (bytes) => {
      // An empty array may have no memory at all, which zlib takes for a wish to begin anew.
      if (bytes.length > 0) value = crc32(bytes, value);
    },
    digest: () => value.toString(16).padStart(8, '0'),
  };
}

/** What the thread does; as text, so that it needs no file of its own beside a bundle. */
const SCRIPT = `
const { createHash } = require('node:crypto');
const { createReadStream } = require('node:fs');
const { pipeline } = require('node:stream/promises');
const { parentPort } = require('node:worker_threads');
parentPort.on('message', async ({ id, path, algorithm }) => {
  try {
    const hash = createHash(algorithm);
    await pipeline(createReadStream(path, { highWaterMark: 1 << 20 }), hash);
    parentPort.postMessage({ id, digest: hash.digest('hex') });
  } catch ({ message, code }) {
    parentPort.postMessage({ id, failure: { message, code } });
  }
});
`;

interface Answer {
  readonly id: number;
  readonly digest?: string;
  readonly failure?: { readonly message: string; readonly code?: string };
}

interface Waiting {
  readonly resolve: (digest: string) => void;
  readonly reject: (error: Error) => void;
}

/** A thread that takes checksums of files, while this one goes on with its work. */
class DigestThread {
  readonly #worker = new Worker(SCRIPT, { eval: true });
  readonly #waiting = new Map<number, Waiting>();
  #next = 0;

  constructor() {
    // A thread that nobody waits for must not keep the process alive.
    this.#worker.unref();
    this.#worker.on('message', ({ id, digest, failure }: Answer) => {
      const waiting = this.#waiting.get(id);
      this.#waiting.delete(id);
      if (this.#waiting.size === 0) this.#worker.unref();
      if (digest !== undefined) waiting?.resolve(digest);
      else waiting?.reject(Object.assign(new Error(failure?.message), { code: failure?.code }));
    });
    this.#worker.on('error', (error) => {
      thread = undefined;
      for (const { reject } of this.#waiting.values()) reject(error);
    });
  }

  digest(path: string, algorithm: DigestAlgorithm): Promise<string> {
    return new Promise((resolve, reject) => {
      const id = this.#next++;
      this.#waiting.set(id, { resolve, reject });
      this.#worker.ref();
      this.#worker.postMessage({ id, path, algorithm });
    });
  }
}

let thread: DigestThread | undefined;

/** The checksum of a file in lower-case hexadecimal. @throws a system error where the file can't be read */
export function digestFile(path: string, algorithm: DigestAlgorithm): Promise<string> {
  thread ??= new DigestThread();
  return thread.digest(path, algorithm);
}

import { Worker } from 'node:worker_threads';
import { crc32 } from 'node:zlib';
import type { DigestAlgorithm, Hasher } from '@oiseau/render';

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

/** Program of the thread, which lies beside this file and beside every bundle of it. */
const PROGRAM = new URL('checksum-thread.mjs', import.meta.url);

/** A request to the thread; the answer has its `id`. */
type Order =
  | { readonly path: string; readonly algorithm: DigestAlgorithm }
  | { readonly hash: number; readonly bytes: Uint8Array }
  | { readonly hash: number; readonly drop: boolean };

interface Answer {
  readonly id: number;
  readonly digest?: string;
  /** Memory that went over to the thread, and is done with. */
  readonly bytes?: Uint8Array<ArrayBuffer>;
  readonly failure?: { readonly message: string; readonly code?: string };
}

interface Waiting {
  readonly resolve: (digest: string) => void;
  readonly reject: (error: Error) => void;
}

/** Bytes that go to the thread at a time, and how many of such loads may wait there. */
const LOAD = 1 << 20;
const MOST_WAITING = 8;
/** Loads whose memory is kept for the next ones. */
const MOST_FREE = 4;

/** A thread that takes checksums of files, while this one goes on with its work. */
class DigestThread {
  readonly #worker = new Worker(PROGRAM);
  readonly #waiting = new Map<number, Waiting>();
  /** Memory of loads that it has given back. */
  readonly #free: Uint8Array<ArrayBuffer>[] = [];
  #next = 0;

  constructor() {
    // An idle thread must not keep the process alive.
    this.#worker.unref();
    this.#worker.on('message', ({ id, digest, bytes, failure }: Answer) => {
      if (bytes && this.#free.length < MOST_FREE) this.#free.push(new Uint8Array(bytes.buffer));
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

  /** Memory for a load, the caller’s from now on. */
  takeLoad(): Uint8Array<ArrayBuffer> {
    return this.#free.pop() ?? new Uint8Array(LOAD);
  }

  /** @param given memory that goes over to the thread */
  ask(order: Order, given: readonly ArrayBuffer[] = []): Promise<string> {
    return new Promise((resolve, reject) => {
      const id = this.#next++;
      this.#waiting.set(id, { resolve, reject });
      this.#worker.ref();
      this.#worker.postMessage({ id, ...order }, [...given]);
    });
  }
}

let thread: DigestThread | undefined;

/** The checksum of a file in lower-case hexadecimal. @throws a system error where the file can't be read */
export function digestFile(path: string, algorithm: DigestAlgorithm): Promise<string> {
  thread ??= new DigestThread();
  return thread.ask({ path, algorithm });
}

let nextHash = 0;

/** A SHA-256 of a stream, computed by the thread while the caller continues. */
export class RunningDigest {
  readonly #hash = nextHash++;
  readonly #thread = (thread ??= new DigestThread());
  /** The one that gathers a load: only one does at a time, so that many of them take no more memory than one. */
  static #gathering: RunningDigest | undefined;
  readonly #waiting: Promise<unknown>[] = [];
  #load = new Uint8Array();
  #filled = 0;

  /** Takes a copy of the bytes; waits where too many of them are still to be taken in. */
  async update(bytes: Uint8Array): Promise<void> {
    const other = RunningDigest.#gathering;
    if (other !== this) {
      RunningDigest.#gathering = this;
      if (other) await other.#send();
    }
    if (this.#load.length === 0) this.#load = this.#thread.takeLoad();
    for (let done = 0; done < bytes.length;) {
      const count = Math.min(LOAD - this.#filled, bytes.length - done);
      this.#load.set(bytes.subarray(done, done + count), this.#filled);
      this.#filled += count;
      done += count;
      if (this.#filled === LOAD) await this.#send();
    }
  }

  async #send(): Promise<void> {
    if (this.#filled === 0) return;
    const bytes = this.#load.subarray(0, this.#filled);
    const taken = this.#thread.ask({ hash: this.#hash, bytes }, [bytes.buffer]);
    // A failure is reported to the caller that asks for the checksum.
    taken.catch(() => undefined);
    this.#waiting.push(taken);
    this.#load = RunningDigest.#gathering === this ? this.#thread.takeLoad() : new Uint8Array();
    this.#filled = 0;
    if (this.#waiting.length > MOST_WAITING) await this.#waiting.shift();
  }

  /** The SHA-256 of everything that came, in lower-case hexadecimal; nothing may come after it. */
  async digest(): Promise<string> {
    this.#leave();
    await this.#send();
    await Promise.all(this.#waiting);
    return this.#thread.ask({ hash: this.#hash, drop: false });
  }

  /** Abandons the result. */
  async drop(): Promise<void> {
    this.#leave();
    await this.#thread.ask({ hash: this.#hash, drop: true });
  }

  #leave(): void {
    if (RunningDigest.#gathering === this) RunningDigest.#gathering = undefined;
  }
}

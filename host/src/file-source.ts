import { open, type FileHandle } from 'node:fs/promises';
import type { ByteSource } from '@oiseau/audio/pcm';

/** Bytes fetched at a time by a reader that goes on where it stopped. */
const AHEAD = 1 << 20;
/** Files that keep what was fetched ahead; an album has many masters open, and reads only a few at a time. */
const MOST_AHEAD = 4;

/** An open file that other threads of the process can read. */
export interface SharedFile {
  /** Its descriptor. */
  readonly fd: number;
  readonly size: number;
  /** Takes the CRC-32 of a piece that another thread has read; absent where nothing is summed. */
  readonly tell?: (piece: number, crc: number) => void;
}

/** A byte source, perhaps of such a file. */
export interface HasSharedFile {
  readonly shared?: SharedFile;
}

interface ReadBytes {
  readonly at: number;
  readonly bytes: Uint8Array;
}

const endOf = ({ at, bytes }: ReadBytes): number => at + bytes.length;

/** A file on disk as a byte source; keep it open while reading, then `close` it. Consecutive reads find the next bytes read ahead. */
export class FileByteSource implements ByteSource, HasSharedFile {
  /** Those that keep what was fetched ahead, the one that was read last at the end. */
  static readonly #reading: FileByteSource[] = [];

  /** End of the last read. */
  #next = -1;
  #here: ReadBytes | undefined;
  #ahead: Promise<ReadBytes> | undefined;

  private constructor(
    readonly handle: FileHandle,
    readonly size: number,
  ) {}

  get shared(): SharedFile {
    return { fd: this.fd, size: this.size };
  }

  static async open(path: string): Promise<FileByteSource> {
    const handle = await open(path, 'r');
    try {
      return new FileByteSource(handle, (await handle.stat()).size);
    } catch (error) {
      await handle.close();
      throw error;
    }
  }

  /** The number by which all threads of this process know the file, as long as it is open. */
  get fd(): number {
    return this.handle.fd;
  }

  async read(offset: number, length: number, into?: Uint8Array): Promise<Uint8Array> {
    const end = Math.min(this.size, offset + length);
    // Callers with their own buffer save a copy, and read in pieces of their own.
    if (into) return (await this.#fetch(offset, end - offset, into)).bytes;
    const inOrder = offset === this.#next;
    this.#next = end;
    if (!inOrder || end - offset >= AHEAD) {
      this.#forget();
      return (await this.#fetch(offset, end - offset)).bytes;
    }
    const here = this.#here;
    if (here && here.at <= offset && end <= endOf(here)) return within(here, offset, end);
    // What is left of this stretch, and the rest from the one after it.
    const first = here && here.at <= offset ? within(here, offset, endOf(here)) : new Uint8Array();
    const next = await (this.#ahead ?? this.#fetch(offset + first.length, AHEAD));
    // Another reader may have moved on meanwhile.
    if (offset + first.length < next.at || end > endOf(next)) {
      this.#forget();
      return (await this.#fetch(offset, end - offset)).bytes;
    }
    this.#here = next;
    this.#remember();
    this.#ahead = endOf(next) < this.size ? this.#fetch(endOf(next), AHEAD) : undefined;
    // A read-ahead that is never used may fail unreported.
    this.#ahead?.catch(() => undefined);
    const second = within(next, offset + first.length, end);
    if (first.length === 0) return second;
    const bytes = new Uint8Array(first.length + second.length);
    bytes.set(first);
    bytes.set(second, first.length);
    return bytes;
  }

  /** Takes a place among those that keep what was fetched ahead; the one that was read longest ago gives up its own. */
  #remember(): void {
    const reading = FileByteSource.#reading;
    this.#leave();
    reading.push(this);
    const [longestAgo] = reading;
    if (longestAgo && reading.length > MOST_AHEAD) longestAgo.#forget();
  }

  #forget(): void {
    this.#here = this.#ahead = undefined;
    this.#leave();
  }

  #leave(): void {
    const at = FileByteSource.#reading.indexOf(this);
    if (at >= 0) FileByteSource.#reading.splice(at, 1);
  }

  async #fetch(at: number, length: number, into?: Uint8Array): Promise<ReadBytes> {
    const wanted = Math.max(0, Math.min(length, this.size - at));
    // Never pooled: a slice of it may be kept for long.
    const bytes = into?.subarray(0, wanted) ?? Buffer.allocUnsafeSlow(wanted);
    let done = 0;
    while (done < bytes.length) {
      const { bytesRead } = await this.handle.read(bytes, done, bytes.length - done, at + done);
      if (bytesRead === 0) break;
      done += bytesRead;
    }
    return { at, bytes: new Uint8Array(bytes.buffer, bytes.byteOffset, done) };
  }

  close(): Promise<void> {
    this.#forget();
    return this.handle.close();
  }
}

const within = ({ at, bytes }: ReadBytes, from: number, to: number): Uint8Array =>
  bytes.subarray(from - at, to - at);

import type { ByteSource } from '@oiseau/core';
import { RunningDigest } from './checksum.js';
import { FileByteSource } from './file-source.js';

/** Bytes read at a time of what nobody has asked for. */
const STEP = 1 << 20;

/**
 * A file that takes its own SHA-256 from the very bytes that are read of it. What is passed over is read for the sum alone, so that each byte
 * of the file goes into it once, whatever was asked for and in which order.
 */
export class SummedSource implements ByteSource {
  readonly #digest = new RunningDigest();
  /** Bytes from the start that are in the sum. */
  #summed = 0;
  /** Readers may ask at the same time; the sum is made in one order. */
  #turn: Promise<void> = Promise.resolve();
  #sum: Promise<string> | undefined;

  private constructor(readonly file: FileByteSource) {}

  static async open(path: string): Promise<SummedSource> {
    return new SummedSource(await FileByteSource.open(path));
  }

  get size(): number {
    return this.file.size;
  }

  async read(offset: number, length: number): Promise<Uint8Array> {
    const bytes = await this.file.read(offset, length);
    const end = offset + bytes.length;
    if (end > this.#summed && !this.#sum) {
      this.#turn = this.#turn.then(() => this.#take(offset, end, bytes));
      await this.#turn;
    }
    return bytes;
  }

  async #take(offset: number, end: number, bytes: Uint8Array): Promise<void> {
    if (end <= this.#summed) return;
    await this.#sumUpTo(offset);
    await this.#digest.update(bytes.subarray(this.#summed - offset));
    this.#summed = end;
  }

  async #sumUpTo(end: number): Promise<void> {
    while (this.#summed < end) {
      const bytes = await this.file.read(this.#summed, Math.min(STEP, end - this.#summed));
      if (bytes.length === 0) return;
      await this.#digest.update(bytes);
      this.#summed += bytes.length;
    }
  }

  /** The SHA-256 of the whole file, in lower-case hexadecimal; what was not read yet is read now. */
  sum(): Promise<string> {
    this.#sum ??= this.#turn.then(async () => {
      await this.#sumUpTo(this.size);
      return this.#digest.digest();
    });
    return this.#sum;
  }

  async close(): Promise<void> {
    await this.#sum?.catch(() => undefined);
    if (!this.#sum) await this.#digest.drop();
    await this.file.close();
  }
}

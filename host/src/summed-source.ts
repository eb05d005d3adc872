import { crc32 } from 'node:zlib';
import type { ByteSource } from '@oiseau/audio/pcm';
import { RunningDigest } from './checksum.js';
import { FileByteSource, type HasSharedFile, type SharedFile } from './file-source.js';
import { PIECE } from './shared-file.js';

/**
 * A file that takes its own SHA-256 from the very bytes that are read of it. What is passed over is read for the sum alone, so that each byte
 * of the file goes into it once, whatever was asked for and in which order. What other threads read of the file they tell by the CRC-32 of whole
 * pieces, and each of them is held against what went into the sum.
 */
export class SummedSource implements ByteSource, HasSharedFile {
  readonly #digest = new RunningDigest();
  /** Bytes from the start that are in the sum. */
  #summed = 0;
  /** Readers may ask at the same time; the sum is made in one order. */
  #turn: Promise<void> = Promise.resolve();
  #sum: Promise<string> | undefined;
  /** CRC-32 of each piece, as far as it is summed; the last one is still in the making. */
  readonly #pieces: number[] = [];
  /** Pieces that were read elsewhere, and their CRC-32. */
  readonly #told = new Map<number, number>();
  /** What was read elsewhere at different times was not the same. */
  #unsteady = false;

  private constructor(readonly file: FileByteSource) {}

  static async open(path: string): Promise<SummedSource> {
    return new SummedSource(await FileByteSource.open(path));
  }

  get size(): number {
    return this.file.size;
  }

  get shared(): SharedFile {
    return { ...this.file.shared, tell: (piece, crc) => this.#tell(piece, crc) };
  }

  /** A piece of the file that another thread has read. */
  #tell(piece: number, crc: number): void {
    if ((this.#told.get(piece) ?? crc) !== crc) this.#unsteady = true;
    this.#told.set(piece, crc);
  }

  async read(offset: number, length: number, into?: Uint8Array): Promise<Uint8Array> {
    const bytes = await this.file.read(offset, length, into);
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
    await this.#add(bytes.subarray(this.#summed - offset));
  }

  /** Takes the next bytes of the file into the sum. */
  async #add(bytes: Uint8Array): Promise<void> {
    for (let done = 0; done < bytes.length;) {
      const piece = Math.floor(this.#summed / PIECE);
      const part = bytes.subarray(done, done + (piece + 1) * PIECE - this.#summed);
      this.#pieces[piece] = crc32(part, this.#pieces[piece] ?? 0);
      this.#summed += part.length;
      done += part.length;
    }
    await this.#digest.update(bytes);
  }

  async #sumUpTo(end: number): Promise<void> {
    while (this.#summed < end) {
      const bytes = await this.file.read(this.#summed, Math.min(PIECE, end - this.#summed));
      if (bytes.length === 0) return;
      await this.#add(bytes);
    }
  }

  /**
   * The SHA-256 of the whole file, in lower-case hexadecimal; what was not read yet is read now. Call it after the last read.
   * Empty where something else was read elsewhere than what went into the sum.
   */
  sum(): Promise<string> {
    this.#sum ??= this.#turn.then(async () => {
      await this.#sumUpTo(this.size);
      const sum = await this.#digest.digest();
      const asSummed = [...this.#told].every(([piece, crc]) => this.#pieces[piece] === crc);
      return asSummed && !this.#unsteady ? sum : '';
    });
    return this.#sum;
  }

  async close(): Promise<void> {
    await this.#sum?.catch(() => undefined);
    if (!this.#sum) await this.#digest.drop();
    await this.file.close();
  }
}

import { readSync } from 'node:fs';
import { crc32 } from 'node:zlib';
import type { ByteSource } from '@oiseau/audio/pcm';

/** Files are read in aligned pieces of so many bytes, so all readers read the same pieces. */
export const PIECE = 1 << 20;
/** Pieces that a thread keeps, of all its files together. */
const MOST_KEPT = 6;

/** A file that another thread has opened, and keeps open. */
export interface FileHandleNumber {
  readonly fd: number;
  readonly size: number;
}

/** Is told of each piece that was read from the disk, by its place among the pieces and its CRC-32. */
export type OnPiece = (piece: number, crc: number) => void;

interface Kept {
  readonly fd: number;
  readonly piece: number;
  readonly bytes: Uint8Array;
  /** The memory that they lie in: a whole piece. */
  readonly memory: Uint8Array;
}

/**
 * The bytes of a file that another thread keeps open, for a thread that has nothing else to do than to wait for them. What is read stays as it is
 * until MOST_KEPT further pieces are read: their memory is used again and again, since fresh memory costs more than reading.
 */
export class SharedFile implements ByteSource {
  /** What was read last, by any of them, the newest at the end. */
  static readonly #kept: Kept[] = [];

  constructor(
    readonly file: FileHandleNumber,
    readonly onPiece?: OnPiece,
  ) {}

  get size(): number {
    return this.file.size;
  }

  /** Gives up what is kept: the number of a file that was closed may become another’s. */
  static forget(): void {
    SharedFile.#kept.length = 0;
  }

  read(offset: number, length: number): Promise<Uint8Array> {
    const end = Math.min(this.size, offset + length);
    const first = Math.floor(offset / PIECE);
    if (end <= (first + 1) * PIECE) return Promise.resolve(this.#within(first, offset, end));
    const bytes = new Uint8Array(Math.max(0, end - offset));
    for (let at = offset; at < end;) {
      const piece = Math.floor(at / PIECE);
      const part = this.#within(piece, at, Math.min(end, (piece + 1) * PIECE));
      bytes.set(part, at - offset);
      if (part.length === 0) return Promise.resolve(bytes.subarray(0, at - offset));
      at += part.length;
    }
    return Promise.resolve(bytes);
  }

  #within(piece: number, from: number, to: number): Uint8Array {
    const start = piece * PIECE;
    return to > from ? this.#piece(piece).subarray(from - start, to - start) : new Uint8Array();
  }

  #piece(piece: number): Uint8Array {
    const { fd } = this.file;
    const known = SharedFile.#kept.find((each) => each.fd === fd && each.piece === piece);
    if (known) return known.bytes;
    const start = piece * PIECE;
    const wanted = Math.min(PIECE, this.size - start);
    const kept = SharedFile.#kept;
    const memory = (kept.length >= MOST_KEPT && kept.shift()?.memory) || new Uint8Array(PIECE);
    let done = 0;
    while (done < wanted) {
      const count = readSync(fd, memory, done, wanted - done, start + done);
      if (count === 0) break;
      done += count;
    }
    const bytes = memory.subarray(0, done);
    this.onPiece?.(piece, crc32(bytes));
    kept.push({ fd, piece, bytes, memory });
    return bytes;
  }
}

import type { ByteSource } from '@oiseau/audio/pcm';

/** Bytes fetched at a time, and how many such pieces are kept. */
const PIECE = 256 * 1024;
const KEPT = 48;
/** Time limit of the first request for a piece: playback computes 4 s ahead, so a lost response must be retried before that. */
const PATIENCE_MS = 3000;
const TRIES = 3;

/** A file on the server as a byte source: read by HTTP ranges, with the last pieces kept at hand. */
export class HttpByteSource implements ByteSource {
  readonly #pieces = new Map<number, Promise<Uint8Array>>();

  constructor(
    readonly url: string,
    readonly size: number,
  ) {}

  async read(offset: number, length: number): Promise<Uint8Array> {
    const end = Math.min(this.size, offset + length);
    const first = Math.floor(offset / PIECE);
    const last = Math.floor((end - 1) / PIECE);
    if (first === last) {
      const piece = await this.#piece(first);
      return piece.subarray(offset - first * PIECE, end - first * PIECE);
    }
    const pieces = await Promise.all(
      Array.from({ length: last - first + 1 }, (_, i) => this.#piece(first + i)),
    );
    const bytes = new Uint8Array(end - offset);
    pieces.forEach((piece, i) => {
      const at = (first + i) * PIECE;
      const from = Math.max(0, offset - at);
      bytes.set(piece.subarray(from, end - at), at + from - offset);
    });
    return bytes;
  }

  #piece(index: number): Promise<Uint8Array> {
    let piece = this.#pieces.get(index);
    if (piece) this.#pieces.delete(index);
    else piece = this.#fetch(index);
    this.#pieces.set(index, piece);
    for (const oldest of this.#pieces.keys()) {
      if (this.#pieces.size <= KEPT) break;
      this.#pieces.delete(oldest);
    }
    return piece;
  }

  async #fetch(index: number): Promise<Uint8Array> {
    try {
      const from = index * PIECE;
      return await this.#ask(`bytes=${from}-${Math.min(this.size, from + PIECE) - 1}`, 1);
    } catch (error) {
      // A failed piece is forgotten, so that the next try asks again.
      this.#pieces.delete(index);
      throw error;
    }
  }

  async #ask(range: string, attempt: number): Promise<Uint8Array> {
    const patience = AbortSignal.timeout(PATIENCE_MS * attempt);
    try {
      const response = await fetch(this.url, {
        headers: { Range: range },
        // The browser's cache lets ranges of one file wait for each other, up to 20 s; the pieces are kept here.
        cache: 'no-store',
        signal: patience,
      });
      if (response.status !== 206)
        throw new Error(`The server answered ${response.status} for a master's audio.`);
      return new Uint8Array(await response.arrayBuffer());
    } catch (error) {
      if (!patience.aborted || attempt >= TRIES) throw error;
      return this.#ask(range, attempt + 1);
    }
  }
}

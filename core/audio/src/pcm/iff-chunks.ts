import { ByteReader, type ByteOrder, type ByteSource } from './bytes.js';

/** A chunk's place in a file. */
export interface Chunk {
  /** Four characters. */
  readonly id: string;
  /** Offset of the first byte behind the chunk's head. */
  readonly body: number;
  /** Size as the head declares it, without the pad byte; what a broken writer declared may reach past the end of the file. */
  readonly size: number;
}

/** Chunks that are walked through; a file that is cut into more is not one that anybody has written. */
const MOST_CHUNKS = 10_000;

/**
 * Walks the chunks of a RIFF or IFF file from `from` on. A chunk of odd length is padded to even; one whose size is
 * not the truth (RF64's 0xFFFFFFFF) is walked on from `sizeOf`, if that knows better. After 10,000 chunks it ends.
 */
export async function* chunksOf(
  source: ByteSource,
  from: number,
  order: ByteOrder,
  sizeOf: (chunk: Chunk) => number = ({ size }) => size,
): AsyncGenerator<Chunk> {
  let left = MOST_CHUNKS;
  for (let at = from; at + 8 <= source.size && left > 0; left--) {
    const head = new ByteReader(await source.read(at, 8), order);
    const chunk = { id: head.fourCC(), size: head.u32(), body: at + 8 };
    yield chunk;
    const size = sizeOf(chunk);
    at = chunk.body + size + (size % 2);
  }
}

import { CHANNELS, part, silence, type Block, type Memory, type PcmSource } from '../pcm/block.js';

/** Samples that are kept at the least behind the place that was read last. */
const LEAST_KEPT = 1 << 15;

/** What was read at once, as it came. */
interface Piece {
  readonly from: number;
  readonly block: Block;
  /** That in which the block lies, which may be longer. */
  readonly memory: Block;
}

const endOf = ({ from, block }: Piece): number => from + block.left.length;

/**
 * A source that keeps what was read of it last, so that two who read it a little apart (one that looks ahead, one that writes) do not send
 * whatever lies before it back and forth.
 */
export class KeptSource implements PcmSource {
  /** Pieces that follow each other without a hole. */
  #pieces: Piece[] = [];
  /** Memory of a piece that is kept no longer. */
  #left: Block | undefined;
  #readers = 0;

  constructor(readonly source: PcmSource) {}

  get rate(): number {
    return this.source.rate;
  }
  get length(): number {
    return this.source.length;
  }
  get format(): PcmSource['format'] {
    return this.source.format;
  }
  get memory(): Memory | undefined {
    return this.source.memory;
  }

  async read(start: number, count: number, into: Block = silence(count)): Promise<Block> {
    this.#readers++;
    try {
      const pieces = await this.#piecesOver(start, count);
      for (const { from, block } of pieces) {
        const [begin, until] = [Math.max(start, from), Math.min(start + count, from + block.left.length)];
        if (begin >= until) continue;
        for (const channel of CHANNELS)
          into[channel].set(block[channel].subarray(begin - from, until - from), begin - start);
      }
      return into;
    } finally {
      this.#readers--;
    }
  }

  /** Pieces of so many samples; valid until the next read. */
  async #piecesOver(start: number, count: number): Promise<readonly Piece[]> {
    const end = start + count;
    const [first] = this.#pieces;
    const last = this.#pieces.at(-1);
    const isNear = first && last && start >= first.from && start <= endOf(last);
    const to = isNear ? endOf(last) : start;
    let pieces = isNear ? this.#pieces : [];
    if (end > to) {
      pieces = [...pieces, await this.#readOn(to, end - to)];
      const behind = end - Math.max(LEAST_KEPT, 2 * count);
      this.#pieces = pieces.filter((piece) => endOf(piece) > behind);
      // Who reads at the same time may still want it.
      if (this.#readers === 1) this.#left = pieces.find((piece) => endOf(piece) <= behind)?.memory;
    }
    return pieces;
  }

  async #readOn(from: number, count: number): Promise<Piece> {
    const left = this.#left && this.#left.left.length >= count ? this.#left : undefined;
    this.#left = undefined;
    const block = await this.source.read(from, count, left && part(left, 0, count));
    const isThere = left && block.left.buffer === left.left.buffer;
    return { from, block, memory: isThere ? left : block };
  }
}

import { CHANNELS, Room, silence, type Block, type PcmSource } from '../pcm/block.js';

/** Reads a source for a filter: successive stretches overlap by its length, and what the last one had is not read twice. */
export class SlidingInput {
  readonly #room = new Room();
  /** The end of the last stretch. */
  #tail: { readonly at: number; readonly block: Block } = { at: 0, block: silence(0) };

  /** @param keep the most samples by which stretches overlap */
  constructor(
    readonly source: PcmSource,
    readonly keep: number,
  ) {}

  /** Samples `[start, start + count)`: what was there already, and what follows it, until `use` has returned. */
  read<Used>(start: number, count: number, use: (known: Block, fresh: Block) => Used): Promise<Used> {
    const { at, block } = this.#tail;
    const overlap = at + block.left.length - start;
    const known = start >= at && overlap > 0 && overlap < count ? from(block, start - at) : silence(0);
    const have = known.left.length;
    return this.#room.lend(count - have, async (space) => {
      const fresh = await this.source.read(start + have, count - have, space);
      const end = start + count;
      if (count - have >= this.keep)
        this.#tail = { at: end - this.keep, block: from(fresh, count - have - this.keep) };
      else this.#tail = { at: start, block: joined(known, fresh) };
      return use(known, fresh);
    });
  }
}

const from = ({ left, right }: Block, at: number): Block => ({
  left: left.slice(at),
  right: right.slice(at),
});

/** Two stretches as one. */
export function joined(a: Block, b: Block): Block {
  const both = silence(a.left.length + b.left.length);
  for (const channel of CHANNELS) {
    both[channel].set(a[channel]);
    both[channel].set(b[channel], a[channel].length);
  }
  return both;
}

import { CHANNELS, silence, type Block } from '@oiseau/audio/pcm';
import { inOrder } from './in-order.js';
import type { Programme } from './programme.js';
import type { Readable } from './stream.js';
import type { Stretch, Stretches } from './stretches.js';

/** A programme whose next chunks are rendered by other threads while the reader processes the last one. */
export class ReadAhead implements Readable {
  #blocks: AsyncGenerator<Block, void, undefined> | undefined;
  #here: { readonly at: number; readonly block: Block } = { at: 0, block: silence(0) };

  /** @param end place up to which it will be read */
  constructor(
    readonly name: string,
    readonly programme: Programme,
    readonly stretches: Stretches,
    readonly end: number,
  ) {}

  get frameLength(): number {
    return this.programme.frameLength;
  }

  async read(start: number, count: number, into: Block = silence(count)): Promise<Block> {
    for (let at = start; at < start + count;) {
      const { block } = this.#here;
      const from = at - this.#here.at;
      if (from >= 0 && from < block.left.length) {
        const taken = Math.min(block.left.length - from, start + count - at);
        for (const channel of CHANNELS)
          into[channel].set(block[channel].subarray(from, from + taken), at - start);
        at += taken;
      } else await this.#go(at);
    }
    return into;
  }

  /** Goes on to the stretch that begins at a place; where that is not the next one, everything begins anew there. */
  async #go(at: number): Promise<void> {
    const isNext = this.#here.at + this.#here.block.left.length === at;
    if (!isNext) await this.close();
    const { stretches } = this;
    this.#blocks ??= inOrder(
      this.#stretchesFrom(at),
      (stretch) => stretches.width(stretch, null),
      (stretch) => stretches.block(stretch),
    );
    const next = await this.#blocks.next();
    // Beyond the end it is read by itself.
    const block = next.done ? await this.programme.read(at, this.frameLength) : next.value;
    stretches.done(this.#here.block.left.buffer);
    this.#here = { at, block };
  }

  *#stretchesFrom(start: number): Generator<Stretch> {
    for (let at = start; at < this.end;) {
      const stretch = stretchFrom(this.name, this.programme, at, this.end);
      yield stretch;
      at = stretch.to;
    }
  }

  async close(): Promise<void> {
    await this.#blocks?.return();
    this.#blocks = undefined;
  }
}

/** CD frames in a stretch of what has no memory: so much of a render is held for each thread. */
const USUAL_FRAMES = 300;

/** The stretch of a programme that begins at a place. */
export function stretchFrom(name: string, programme: Programme, from: number, end: number): Stretch {
  const { cut, run } = programme.cutAfter(from, end, USUAL_FRAMES * programme.frameLength);
  return { programme: name, from, to: cut, run };
}

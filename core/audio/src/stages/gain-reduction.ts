import type { Block } from '../pcm/block.js';
import { FRAMES_PER_SECOND } from '../time/frames.js';

/** What a stage with a gain of its own takes away, over time: of each 1/75 s the most, in tenths of a decibel. */
export class TakenAwayMeter {
  readonly #values: Uint8Array;
  #position = 0;

  /** @param length samples of one channel that will be pushed */
  constructor(
    readonly rate: number,
    length: number,
  ) {
    this.#values = new Uint8Array(Math.ceil((length * FRAMES_PER_SECOND) / rate));
  }

  /** @param reductions of the next samples, dB, 0 or more */
  push(reductions: ArrayLike<number>): void {
    for (let i = 0; i < reductions.length; i++) {
      const reduction = reductions[i] as number;
      if (reduction > 0) {
        const at = Math.floor(((this.#position + i) * FRAMES_PER_SECOND) / this.rate);
        const tenths = Math.min(255, Math.round(10 * reduction));
        if (tenths > (this.#values[at] ?? 255)) this.#values[at] = tenths;
      }
    }
    this.#position += reductions.length;
  }

  /** Tenths of a decibel for each 1/75 s. */
  result(): Uint8Array<ArrayBuffer> {
    return this.#values.slice();
  }
}

/** So quiet a sample tells no gain. */
const TELLS = 1e-4;

/** What the gain of a stage took from its samples, dB; where they are too quiet to tell, what it took before. */
export function reductionsBetween(before: Block, after: Block, makeupDb: number, last = 0): Float64Array {
  const made = 10 ** (makeupDb / 20);
  let reduction = last;
  return Float64Array.from(before.left, (left, i) => {
    const right = before.right[i] as number;
    const isLeft = Math.abs(left) > Math.abs(right);
    const from = isLeft ? left : right;
    if (Math.abs(from) > TELLS) {
      const to = (isLeft ? after.left[i] : after.right[i]) as number;
      const gain = to / (from * made);
      reduction = gain > 0 ? Math.max(0, -20 * Math.log10(gain)) : reduction;
    }
    return reduction;
  });
}

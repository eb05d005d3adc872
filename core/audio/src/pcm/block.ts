import type { Kernels, Placed } from '../kernels/kernels.js';

/**
 * A stretch of stereo audio: planar, double precision, full scale ±1.0.
 * Both arrays have the same length; mono sources fill both alike (docs/rules.md 3.6).
 */
export interface Block {
  readonly left: Float64Array;
  readonly right: Float64Array;
}

/** Both channels of a block, by name. */
export const CHANNELS = ['left', 'right'] as const;

export function silence(length: number): Block {
  return { left: new Float64Array(length), right: new Float64Array(length) };
}

/** The word of a stored sample. */
export type WordFormat = 'int16' | 'int24' | 'int32' | 'float32' | 'float64';

export const WORD_BYTES: Record<WordFormat, number> = {
  int16: 2,
  int24: 3,
  int32: 4,
  float32: 4,
  float64: 8,
};

/** Whether words are whole numbers, and so can go to a word of as many bits or more without a change. */
export const isInteger = (format: WordFormat): boolean => format.startsWith('int');
/** Bits in a word, 16 to 64. */
export const wordBits = (format: WordFormat): number => WORD_BYTES[format] * 8;

/** Audio that is at hand, and is laid into the memory of the kernels where it is wanted: there is room for as many samples as were asked for. */
export type Fetched = (machine: Kernels, at: Placed) => void;

/**
 * Memory for blocks that are read one after the other and done with before the next one: fresh memory costs more than most of what is
 * done in it.
 */
export class Room {
  #block = silence(0);
  #isLent = false;

  /** Lends an uninitialised block of so many samples until `use` resolves; concurrent callers get another one. */
  async lend<Result>(count: number, use: (block: Block) => Promise<Result>): Promise<Result> {
    if (this.#isLent) return use(silence(count));
    this.#isLent = true;
    try {
      if (this.#block.left.length < count) this.#block = silence(count);
      return await use(part(this.#block, 0, count));
    } finally {
      this.#isLent = false;
    }
  }
}

/** Samples `[from, to)` of a block, where they lie. */
export const part = ({ left, right }: Block, from: number, to: number): Block => ({
  left: left.subarray(from, to),
  right: right.subarray(from, to),
});

/** What something with a memory says of it, in samples of its source. */
export interface Memory {
  /** Of the grid on which it begins anew. */
  readonly stretch: number;
  /** The first sample that a read beginning at a position must process; before the start of the source where it begins at rest. */
  readonly since: (position: number) => number;
}

/** A random-access reader of stereo audio. */
export interface PcmSource {
  /** Sample rate in Hz. */
  readonly rate: number;
  /** Length in samples of one channel. */
  readonly length: number;
  readonly format: WordFormat;
  /** Left out where nothing has one. */
  readonly memory?: Memory | undefined;
  /**
   * Reads `count` samples from `start`. Positions outside `[0, length)` read as silence, so that filters
   * may ask for audio around an edge. The block is the reader's own: it may be changed, and both channels are arrays of their own.
   * @param into memory of as many samples, whose contents are of no use any more: what is read may lie there, or elsewhere
   */
  read(start: number, count: number, into?: Block): Promise<Block>;
  /** The same into the memory of the kernels, without a copy between. Optional. */
  readonly fetch?: ((start: number, count: number) => Promise<Fetched>) | undefined;
}

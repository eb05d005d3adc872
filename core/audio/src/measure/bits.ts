import { isInteger, wordBits, type Block, type WordFormat } from '../pcm/block.js';
import type { JoinedMeter } from './joined-meter.js';

/** Float samples are compared with this grid: integer masters have at most 24 bits. */
const FLOAT_GRID_BITS = 24;

/** All words of a stretch, laid over each other, and whether one lies off the grid. */
export interface BitsState {
  readonly union: number;
  readonly offGrid: boolean;
}

/**
 * How many bits of its words a master really uses: a 24-bit file whose last 8 bits are always 0 holds 16. Float words count as
 * whole numbers as long as each is one of at most 24 bits.
 */
export class BitsMeter implements JoinedMeter<BitsState> {
  readonly #grid: number;
  readonly #integer: boolean;
  /** All words so far, laid over each other; its lowest set bit is the finest step in use. */
  #union = 0;
  /** Nothing more can be learnt: the finest step is in use, or a float word lies off the grid. */
  #settled = false;
  #offGrid = false;

  constructor(format: WordFormat) {
    this.#integer = isInteger(format);
    this.#grid = this.#integer ? wordBits(format) : FLOAT_GRID_BITS;
  }

  get state(): BitsState {
    return { union: this.#union, offGrid: this.#offGrid };
  }

  join({ union, offGrid }: BitsState): void {
    this.#union |= union;
    this.#offGrid ||= offGrid;
  }

  push({ left, right }: Block): void {
    if (this.#settled) return;
    this.#scan(left);
    if (!this.#settled) this.#scan(right);
  }

  #scan(audio: Float64Array): void {
    const scale = 2 ** (this.#grid - 1);
    let union = this.#union;
    for (const value of audio) {
      const word = value * scale;
      const whole = word | 0;
      if (!this.#integer && (whole !== word || Math.abs(word) > scale)) {
        this.#offGrid = true;
        break;
      }
      union |= whole;
      if (union & 1) break;
    }
    this.#union = union;
    // A float master is on the grid only if every word is: it is settled by the first that is not.
    this.#settled = this.#offGrid || (this.#integer && (union & 1) === 1);
  }

  /** 1 to 32; null for float words that are no whole numbers, and for digital silence. */
  result(): number | null {
    if (this.#offGrid || this.#union === 0) return null;
    const lowestSet = 31 - Math.clz32(this.#union & -this.#union);
    return this.#grid - lowestSet;
  }
}

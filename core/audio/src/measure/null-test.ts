import { kernels } from '../kernels/kernels.js';
import { CHANNELS, isInteger, wordBits, type Block, type WordFormat } from '../pcm/block.js';
import { decodePlaced, decodeReference } from '../pcm/words.js';

/** Lays words as they are stored against the programme that they were made from, limited to what the words can hold. */
export class NullTest {
  readonly #highest: number;
  readonly #lowest: number;
  /** The highest magnitude stored, and the largest difference to the programme, linear. */
  readonly #extremes = new Float64Array(2);
  #isNearest = true;

  constructor(readonly format: WordFormat) {
    this.#highest = isInteger(format) ? 1 - 2 ** (1 - wordBits(format)) : Infinity;
    this.#lowest = isInteger(format) ? -1 : -Infinity;
  }

  /** @param words interleaved little-endian stereo words of as many samples as the programme’s stretch has */
  push(words: Uint8Array, programme: Block): void {
    if (this.format === 'float32') this.#demandNearest(words, programme);
    if (!kernels) {
      this.pushReference(words, programme);
      return;
    }
    kernels.begin();
    const wanted = kernels.place(programme);
    const stored = decodePlaced(kernels, words, this.format);
    const at = kernels.take(16);
    kernels.doubles(at, 2).set(this.#extremes);
    for (const channel of CHANNELS)
      kernels.call.compare(stored[channel], wanted[channel], wanted.length, this.#highest, this.#lowest, at);
    this.#extremes.set(kernels.doubles(at, 2));
  }

  /** The reference in plain TypeScript: the same figures as the kernel finds. */
  pushReference(words: Uint8Array, programme: Block): void {
    const stored = decodeReference(words, this.format, 2, 'little');
    for (const channel of CHANNELS) {
      let [peak = 0, residual = 0] = this.#extremes;
      programme[channel].forEach((value, i) => {
        const word = stored[channel][i] as number;
        const limited = value > this.#highest ? this.#highest : value < this.#lowest ? this.#lowest : value;
        peak = Math.max(peak, Math.abs(word));
        residual = Math.max(residual, Math.abs(word - limited));
      });
      this.#extremes.set([peak, residual]);
    }
  }

  /** Looks whether each word is the float that lies nearest to the programme: no further off than half a unit in its last place. */
  #demandNearest(words: Uint8Array, { left, right }: Block): void {
    const stored = new DataView(words.buffer, words.byteOffset, words.byteLength);
    for (let i = 0; i < left.length && this.#isNearest; i++)
      this.#isNearest =
        stored.getFloat32(8 * i, true) === Math.fround(left[i] as number) &&
        stored.getFloat32(8 * i + 4, true) === Math.fround(right[i] as number);
  }

  /** Whether every float was rounded to the nearest; true of integers, whose dither has its say. */
  get isNearest(): boolean {
    return this.#isNearest;
  }

  get samplePeak(): number {
    return this.#extremes[0] as number;
  }
  get residual(): number {
    return this.#extremes[1] as number;
  }
}

import { Quantiser, type Seed, type DitherKind } from '@oiseau/audio/dsp';
import {
  isInteger,
  silence,
  WORD_BYTES,
  wordBits,
  type Block,
  type WordFormat,
  encodeWords,
} from '@oiseau/audio/pcm';
import type { Interval, Samples } from '@oiseau/audio/time';

/** CD frames shortened at a time: small enough for a processor’s own memory, in which every step of the work finds the last one’s. */
export const BLOCK_FRAMES = 16;

/** Interleaved words that are to be written, and the programme that they were made from. */
export interface Shortened {
  readonly words: Uint8Array<ArrayBuffer>;
  readonly programme: Block;
}

/** What the words of a file are made of, and how. */
export interface WordsOrder {
  readonly format: WordFormat;
  readonly dither: DitherKind;
  readonly seed: Seed;
}

/** What a stream reads: a programme, or one that is read ahead. */
export interface Readable {
  /** Samples in a CD frame: the grid on which blocks are read and digital silence is told. */
  readonly frameLength: number;
  read(start: number, count: number, into?: Block): Promise<Block>;
}

/** A programme, shortened to words, read in order from some sample on. */
export class Stream {
  readonly #format: WordFormat;
  readonly #quantiser: Quantiser | undefined;
  /** Words already made but not yet asked for: blocks lie on the frame grid, files need not. */
  #rest: Shortened | undefined;
  /** What is made lies in the same memory each time. */
  readonly #room: Block;
  readonly #wordsRoom: Uint8Array<ArrayBuffer>;

  /** @param touched where the programme is no exact copy of words that fit: see `Programme.touchedRanges` */
  constructor(
    readonly programme: Readable,
    { format, dither, seed }: WordsOrder,
    touched: readonly Interval<Samples>[],
    public position: number,
  ) {
    this.#format = format;
    const samples = BLOCK_FRAMES * programme.frameLength;
    this.#room = silence(samples);
    this.#wordsRoom = new Uint8Array(samples * 2 * WORD_BYTES[format]);
    if (isInteger(format))
      this.#quantiser = new Quantiser(format, dither, seed, touched, programme.frameLength);
  }

  /** The next samples, at most `most` and at most one block. They stay as they are until the next ones are asked for. */
  async next(most: number): Promise<Shortened> {
    const all = this.#rest ?? (await this.#fresh());
    const length = all.programme.left.length;
    const taken = Math.min(most, length);
    this.#rest = taken < length ? this.#cut(all, taken, length) : undefined;
    this.position += taken;
    return this.#cut(all, 0, taken);
  }

  #cut({ words, programme: { left, right } }: Shortened, from: number, to: number): Shortened {
    const step = 2 * WORD_BYTES[this.#format];
    return {
      words: words.subarray(from * step, to * step),
      programme: { left: left.subarray(from, to), right: right.subarray(from, to) },
    };
  }

  /** Passes over samples, which leaves its marks on shaped dither. */
  async skipTo(position: number): Promise<void> {
    while (this.position < position) await this.next(position - this.position);
  }

  async #fresh(): Promise<Shortened> {
    const grid = this.programme.frameLength;
    const start = Math.floor(this.position / grid) * grid;
    const programme = await this.programme.read(start, grid * BLOCK_FRAMES, this.#room);
    const words =
      this.#quantiser?.words(programme, start, this.#wordsRoom) ??
      encodeWords(programme, this.#format, this.#wordsRoom);
    return this.#cut({ words, programme }, this.position - start, programme.left.length);
  }
}

/** Bits by which `touchedRanges` is asked for words of a format; no number for words that hold everything. */
export const bitsOf = (format: WordFormat): number | null => (isInteger(format) ? wordBits(format) : null);

import type { Sequence } from '@oiseau/album/model';
import { CHANNELS, part, silence, WORD_BYTES, type Block, type PcmSource } from '@oiseau/audio/pcm';
import type { Interval, Samples } from '@oiseau/audio/time';
import { NullTest } from '@oiseau/audio/measure';
import { Programme, type Run } from './programme.js';
import { BLOCK_FRAMES, bitsOf, Stream, type WordsOrder } from './stream.js';

/** A sequence at a rate: what a programme is made of, as plain data. */
export interface ProgrammeOrder {
  readonly sequence: Sequence;
  readonly rate: number;
}

/** Samples `[from, to)` of a programme. */
export interface Stretch {
  /** The name of its programme in a render. */
  readonly programme: string;
  readonly from: number;
  readonly to: number;
  /** What of it is better made by one, see `Programme.cutAfter`. */
  readonly run: Run | null;
}

/** A stretch as words, and what came of laying them against the programme. */
export interface ShortenedStretch {
  readonly words: Uint8Array;
  /** Highest magnitude that was written, and the largest difference to the programme, linear. */
  readonly samplePeak: number;
  readonly residual: number;
  /** Of floats: each is the one nearest to the programme. */
  readonly isNearest: boolean;
}

/**
 * Makes stretches of programmes, each by itself: in the thread that asks, or in others. Which of them does it, and in what order, changes no bit.
 */
export interface Stretches {
  /** Stretches that may be under way, or wait to be taken, once this one is begun. @param order null for one that is wanted as it sounds */
  width(stretch: Stretch, order: WordsOrder | null): number;
  /** A stretch as it sounds. */
  block(stretch: Stretch): Promise<Block>;
  /** A stretch as words: dither that remembers nothing only. */
  words(stretch: Stretch, order: WordsOrder): Promise<ShortenedStretch>;
  /** The audio of a chunk is no longer needed: its memory may be reused. */
  done(memory: ArrayBufferLike): void;
}

/** Bytes of so many samples in words. */
export const wordBytes = (samples: number, { format }: Pick<WordsOrder, 'format'>): number =>
  samples * 2 * WORD_BYTES[format];

/** Makes stretches here. */
export class StretchMaker implements Stretches {
  readonly #programmes = new Map<string, Programme>();
  readonly #touched = new Map<string, readonly Interval<Samples>[]>();

  /** @param masters every master that any of the programmes plays */
  constructor(
    readonly orders: Readonly<Record<string, ProgrammeOrder>>,
    readonly masters: ReadonlyMap<string, PcmSource>,
  ) {}

  /** @throws RangeError for a name that is none */
  programme(name: string): Programme {
    const known = this.#programmes.get(name);
    if (known) return known;
    const order = this.orders[name];
    if (!order) throw new RangeError(`There is no programme “${name}”.`);
    const programme = new Programme(order.sequence, this.masters, order.rate);
    this.#programmes.set(name, programme);
    return programme;
  }

  width(): number {
    return 1;
  }

  done(): void {
    // The caller owns the result.
  }

  /** @param all memory that it may lie in */
  async block({ programme: name, from, to }: Stretch, all = silence(to - from)): Promise<Block> {
    const programme = this.programme(name);
    // In small blocks, as words are made.
    const most = BLOCK_FRAMES * programme.frameLength;
    const room = silence(most);
    for (let at = from; at < to; at += most) {
      const count = Math.min(most, to - at);
      const block = await programme.read(at, count, part(room, 0, count));
      for (const channel of CHANNELS) all[channel].set(block[channel], at - from);
    }
    return all;
  }

  /** @param all memory that they may lie in */
  async words(
    { programme, from, to }: Stretch,
    order: WordsOrder,
    all: Uint8Array = new Uint8Array(wordBytes(to - from, order)),
  ): Promise<ShortenedStretch> {
    const { format } = order;
    const stream = new Stream(this.programme(programme), order, this.touched(programme, format), from);
    const nullTest = new NullTest(format);
    for (let filled = 0; filled < all.length;) {
      const { words, programme: wanted } = await stream.next(to - stream.position);
      nullTest.push(words, wanted);
      all.set(words, filled);
      filled += words.length;
    }
    const { samplePeak, residual, isNearest } = nullTest;
    return { words: all, samplePeak, residual, isNearest };
  }

  /** `touchedRanges` of a programme for words of a format, found once. */
  touched(programme: string, format: WordsOrder['format']): readonly Interval<Samples>[] {
    const bits = bitsOf(format);
    const key = `${programme} ${bits}`;
    const ranges =
      this.#touched.get(key) ?? (bits === null ? [] : this.programme(programme).touchedRanges(bits));
    this.#touched.set(key, ranges);
    return ranges;
  }
}

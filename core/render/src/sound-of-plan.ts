import { hiddenSong, sequenceOfAlternate } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { seedFromText } from '@oiseau/audio/dsp';
import { isInteger } from '@oiseau/audio/pcm';
import { ticksToSamples } from '@oiseau/audio/time';
import { NullTest } from '@oiseau/audio/measure';
import { inOrder } from './in-order.js';
import { audioFiles, type Plan, type PlannedAudio } from './planned.js';
import type { RenderPorts } from './ports.js';
import { ditherKey } from './programme.js';
import { ReadAhead, stretchFrom } from './read-ahead.js';
import type { RenderInput } from './render-input.js';
import { BLOCK_FRAMES, Stream, type WordsOrder } from './stream.js';
import {
  StretchMaker,
  type ProgrammeOrder,
  type ShortenedStretch,
  type Stretch,
  type Stretches,
} from './stretches.js';

/** Shaped dither remembers: its words are made one after the other, in the thread that joins. */
const remembers = ({ format, dither }: PlannedAudio): boolean => isInteger(format) && dither === 'shaped';

/** A file’s place in its programme, in samples. */
interface Cut {
  readonly programme: string;
  readonly from: number;
  readonly to: number;
}

/**
 * The words of all files of a plan, one file after the other. Several stretches are in the making while one is taken. Files of one part and rate that
 * follow each other without a hole share one dither stream, so that they are the programme, sample for sample, when laid end to end.
 */
export class SoundOfPlan {
  readonly #here: StretchMaker;
  readonly #stretches: Stretches;
  readonly #files: readonly PlannedAudio[];
  /** Stretches of files whose dither remembers nothing. */
  readonly #ahead: AsyncGenerator<ShortenedStretch, void, undefined>;
  readonly #readers = new Map<string, ReadAhead>();
  #stream: { readonly programme: string; readonly stream: Stream } | undefined;

  /** @throws RangeError for a file of a part that is not there */
  constructor(
    plan: Plan,
    readonly input: RenderInput,
    ports: Pick<RenderPorts, 'stretches'>,
  ) {
    this.#files = audioFiles(plan);
    const orders: Record<string, ProgrammeOrder> = {};
    for (const file of this.#files)
      orders[nameOf(file)] ??= {
        sequence: sequenceOfAlternate(this.#partOf(file), file.alternate),
        rate: file.rate,
      };
    this.#here = new StretchMaker(orders, input.masters);
    this.#stretches = ports.stretches?.(orders) ?? this.#here;
    this.#ahead = inOrder(
      this.#stretchesInOrder(),
      ([stretch, order]) => this.#stretches.width(stretch, order),
      ([stretch, order]) => this.#stretches.words(stretch, order),
    );
  }

  #partOf(file: PlannedAudio): Part {
    const part = this.input.parts.find(({ number }) => number === file.part);
    if (!part) throw new RangeError(`${file.path} is cut from part ${file.part}, which is not there.`);
    return part;
  }

  /** The words of a file, which must be the next one of the plan; those of a stretch stay as they are until the next ones are asked for. */
  next(file: PlannedAudio): AsyncIterable<ShortenedStretch> {
    return remembers(file) ? this.#remembered(file) : this.#taken(file);
  }

  async *#taken(file: PlannedAudio): AsyncGenerator<ShortenedStretch> {
    const { from, to } = cutOf(file);
    for (let left = this.#stretchesOf(file, from, to).length; left > 0; left--) {
      const { value } = await this.#ahead.next();
      if (!value) continue;
      yield value;
      this.#stretches.done(value.words.buffer);
    }
  }

  *#stretchesInOrder(): Generator<readonly [Stretch, WordsOrder]> {
    for (const file of this.#files) {
      if (remembers(file)) continue;
      const { from, to } = cutOf(file);
      const order = this.#orderOf(file);
      for (const stretch of this.#stretchesOf(file, from, to)) yield [stretch, order];
    }
  }

  #stretchesOf(file: PlannedAudio, start: number, end: number): Stretch[] {
    const name = nameOf(file);
    const programme = this.#here.programme(name);
    const all: Stretch[] = [];
    for (let from = start; from < end;) {
      const stretch = stretchFrom(name, programme, from, end);
      all.push(stretch);
      from = stretch.to;
    }
    return all;
  }

  async *#remembered(file: PlannedAudio): AsyncGenerator<ShortenedStretch> {
    const { programme: name, from, to } = cutOf(file);
    const stream = await this.#streamAt(file, name, from);
    while (stream.position < to) {
      const { words, programme } = await stream.next(to - stream.position);
      const nullTest = new NullTest(file.format);
      nullTest.push(words, programme);
      const { samplePeak, residual, isNearest } = nullTest;
      yield { words, samplePeak, residual, isNearest };
    }
  }

  async #streamAt(file: PlannedAudio, name: string, from: number): Promise<Stream> {
    if (this.#stream?.programme === name && this.#stream.stream.position === from) return this.#stream.stream;
    // Where a hidden song may still sound, an image that begins after the first pause begins as one does that holds it.
    const first = hiddenSong(this.#partOf(file)) ? 0 : from;
    const stream = new Stream(
      this.#readerOf(name),
      this.#orderOf(file),
      this.#here.touched(name, file.format),
      first,
    );
    this.#stream = { programme: name, stream };
    await stream.skipTo(from);
    return stream;
  }

  #readerOf(name: string): ReadAhead {
    const programme = this.#here.programme(name);
    const ends = this.#files.filter((each) => nameOf(each) === name).map((each) => cutOf(each).to);
    const end = Math.max(...ends) + BLOCK_FRAMES * programme.frameLength;
    const reader = this.#readers.get(name) ?? new ReadAhead(name, programme, this.#stretches, end);
    this.#readers.set(name, reader);
    return reader;
  }

  #orderOf(file: PlannedAudio): WordsOrder {
    const { format, dither } = file;
    const sequence = sequenceOfAlternate(this.#partOf(file), file.alternate);
    const seed = seedFromText(`${ditherKey(sequence, this.input.masters)}|${dither}`);
    return { format, dither, seed };
  }

  /** Nothing is in the making any more once it has resolved. */
  async close(): Promise<void> {
    await this.#ahead.return();
    for (const reader of this.#readers.values()) await reader.close();
  }
}

const nameOf = ({ part, rate, alternate }: PlannedAudio): string => `${part} ${rate} ${alternate}`;

function cutOf(file: PlannedAudio): Cut {
  const from = ticksToSamples(file.stretch.start, file.rate);
  return { programme: nameOf(file), from, to: from + file.length };
}

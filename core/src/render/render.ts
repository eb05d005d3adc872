import { CODINGS } from '../album/coding.js';
import { hiddenSong } from '../album/album.js';
import { sequenceOfAlternate } from '../album/alternates.js';
import type { Part } from '../album/part.js';
import { Quantiser } from '../dsp/dither.js';
import { seedFromText } from '../dsp/random.js';
import { isInteger, WORD_BYTES, wordBits, type Block, type WordFormat } from '../pcm/block.js';
import { decodeWords, encodeWords } from '../pcm/words.js';
import type { EmbeddedPicture } from '../tags/flac-blocks.js';
import { ticksToSamples } from '../time/ticks.js';
import { Meters } from '../measure/measure.js';
import { carriesLoudness, openContainer, sealLoudness, tagFile } from './containers.js';
import { Envelope } from './envelope.js';
import { withLoudnessTags } from './loudness-tags.js';
import { NullTest } from './null-test.js';
import { fileKindOf } from './files/files.js';
import { audioFiles, type Plan, type PlannedAudio } from './planned.js';
import type { Progress, RenderPorts } from './ports.js';
import { ditherKey, Programme, type SourcesByKey } from './programme.js';

/** CD frames rendered at a time: small enough for a processor’s own memory, in which every step of the work finds the last one’s. */
const BLOCK_FRAMES = 16;

/** The audio behind an album, at hand for rendering. */
export interface RenderInput {
  /** The album laid out. */
  readonly parts: readonly Part[];
  /** Every master that is heard, by the key that regions name it by. */
  readonly masters: SourcesByKey;
  /** The cover as it is embedded; null where there is none. */
  readonly cover: EmbeddedPicture | null;
  /** The cover as a shop takes it: square, with so many pixels a side, RGB. Left out where there is none. */
  readonly picture?: (form: 'jpeg' | 'png', pixels: number) => Promise<Uint8Array>;
}

/** What a written file was made from, for the proof to hold it against. */
export interface WrittenAudio {
  readonly planned: PlannedAudio;
  /** CRC-32 over the words as they went to the container. */
  readonly wordsCrc32: string;
  /** Highest magnitude that was written, linear. */
  readonly samplePeak: number;
  /** Null test: the largest difference of a written word to the programme, linear. */
  readonly residual: number;
  /** Power of each CD frame of a lossy file, to find what its decoder gives back in its place; else empty. */
  readonly envelope: Float64Array;
}

/**
 * Writes everything a plan lists. Files of one part and rate that follow each other without a hole share one dither stream, so
 * that they are the programme, sample for sample, when laid end to end.
 * @param progress called with the seconds of audio written so far
 * @returns with the plan, whose files carry what was measured for their tags
 */
export async function renderPlan(
  asked: Plan,
  input: RenderInput,
  ports: RenderPorts,
  progress: Progress,
): Promise<{ readonly plan: Plan; readonly written: WrittenAudio[] }> {
  const plan = await withLoudnessTags(asked, input, () => progress(0));
  const written: WrittenAudio[] = [];
  const sums = new Map<string, Promise<string>>();
  // What several lists tell of a file is taken once; nothing is written over once it was asked for.
  const digest: RenderPorts['digest'] = (path, algorithm) => {
    const key = `${algorithm} ${path}`;
    const sum = sums.get(key) ?? ports.digest(path, algorithm);
    sums.set(key, sum);
    return sum;
  };
  const programmes = new Map<string, Programme>();
  let current: Stream | undefined;
  let doneSeconds = 0;
  // An encoder is still busy with the end of a file when the next one begins.
  let finishing = Promise.resolve();
  try {
    for (const file of audioFiles(plan)) {
      const part = input.parts.find(({ number }) => number === file.part);
      if (!part) throw new RangeError(`${file.path} is cut from part ${file.part}, which is not there.`);
      const key = `${part.number} ${file.rate} ${file.alternate}`;
      const sequence = sequenceOfAlternate(part, file.alternate);
      const programme = programmes.get(key) ?? new Programme(sequence, input.masters, file.rate);
      programmes.set(key, programme);
      const start = ticksToSamples(file.stretch.start, file.rate);
      if (current?.programme !== programme || current.position !== start) {
        // Shaped dither remembers: where a hidden song may still sound, an image that begins after the first pause begins as one does that holds it.
        const from = hiddenSong(part) && file.dither === 'shaped' ? 0 : start;
        current = new Stream(programme, file, from, ditherKey(sequence, input.masters));
        await current.skipTo(start);
      }
      const before = doneSeconds;
      const { audio, finish } = await feed(file, current, input, ports, (seconds) =>
        progress(before + seconds),
      );
      const earlier = finishing;
      finishing = finish(earlier).then(() => {
        // Taken while the next file is written.
        digest(file.path, 'sha256').catch(() => undefined);
      });
      finishing.catch(() => undefined);
      await earlier;
      written.push(audio);
      doneSeconds += file.length / file.rate;
    }
  } finally {
    await finishing.catch(() => undefined);
  }
  await finishing;
  for (const file of plan.files)
    if (file.kind !== 'audio')
      await writeFile(file.path, await fileKindOf(file).bytes(file, { ports, input, digest }), ports);
  return { plan, written };
}

async function writeFile(path: string, bytes: Uint8Array, ports: RenderPorts): Promise<void> {
  const sink = await ports.createFile(path);
  await sink.write(bytes);
  await sink.close();
}

/** Interleaved words that are to be written, and the programme that they were made from. */
interface Shortened {
  readonly words: Uint8Array<ArrayBuffer>;
  readonly programme: Block;
}

/** The programme, shortened to a file's words, read in order from some sample on. */
class Stream {
  readonly #format: WordFormat;
  readonly #quantiser: Quantiser | undefined;
  /** Words already made but not yet asked for: blocks lie on the frame grid, files need not. */
  #rest: Shortened | undefined;

  constructor(
    readonly programme: Programme,
    file: PlannedAudio,
    public position: number,
    sound: string,
  ) {
    this.#format = file.format;
    if (!isInteger(file.format)) return;
    this.#quantiser = new Quantiser(
      file.format,
      file.dither,
      seedFromText(`${sound}|${file.dither}`),
      programme.touchedRanges(wordBits(file.format)),
      programme.frameLength,
    );
  }

  /** The next samples, at most `most` and at most one block. */
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
    const programme = await this.programme.read(start, grid * BLOCK_FRAMES);
    const words = this.#quantiser?.words(programme, start) ?? encodeWords(programme, this.#format);
    return this.#cut({ words, programme }, this.position - start, programme.left.length);
  }
}

/** Writes the words of a file. It is whole once `finish` has resolved, which waits for the file before it, and fails with it. */
async function feed(
  file: PlannedAudio,
  stream: Stream,
  input: RenderInput,
  ports: RenderPorts,
  progress: Progress,
): Promise<{ audio: WrittenAudio; finish: (earlier: Promise<void>) => Promise<void> }> {
  const checksum = ports.crc32();
  const sink = await openContainer(file, input.cover, ports);
  const envelope = new Envelope(file.rate);
  const lossy = file.coding !== 'raw' && CODINGS[file.coding].lossy;
  const nullTest = new NullTest(file.format);
  const meters = carriesLoudness(file) ? new Meters(file.rate, file.format) : null;
  /** Whatever fails, the sink is let go of. */
  const orAbort = async (work: () => Promise<void>): Promise<void> => {
    try {
      await work();
    } catch (error) {
      await sink.abort();
      throw error;
    }
  };
  await orAbort(async () => {
    for (let done = 0; done < file.length;) {
      const { words, programme } = await stream.next(file.length - done);
      checksum.update(words);
      nullTest.push(words, programme);
      meters?.pushWords(words);
      if (lossy) envelope.push(decodeWords(words, file.format, 2));
      await sink.write(words);
      done += programme.left.length;
      await progress(done / file.rate);
    }
  });
  const { samplePeak, residual } = nullTest;
  return {
    audio: {
      planned: file,
      wordsCrc32: checksum.digest(),
      samplePeak,
      residual,
      envelope: envelope.done(),
    },
    finish: (earlier) =>
      orAbort(async () => {
        await earlier;
        await sink.close();
        await tagFile(file, input.cover, ports);
        if (meters) await sealLoudness(file, meters.result(), ports);
      }),
  };
}

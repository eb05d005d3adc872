import type { Layout, Sequence } from '../album/sequence.js';
import { Quantiser } from '../dsp/dither.js';
import { seedFromText } from '../dsp/random.js';
import { isInteger, wordBits, type Block, type PcmSource } from '../pcm/block.js';
import { WavWriter } from '../pcm/wav-write.js';
import { encodeWords } from '../pcm/words.js';
import { ticksToSamples } from '../time/ticks.js';
import { encodeSheet, type Plan, type PlannedAudio } from './plan.js';
import type { FileSink, Progress, RenderPorts } from './ports.js';
import { Programme, soundOf } from './programme.js';

/** CD frames rendered at a time: 0.85 s, small enough to keep memory flat and a stop quick. */
const BLOCK_FRAMES = 64;

/** The audio behind an album, at hand for rendering. */
export interface RenderInput {
  readonly sequence: Sequence;
  readonly layout: Layout;
  /** One source for everything that sounds in the sequence, in order. */
  readonly masters: readonly PcmSource[];
}

/** What a written file was made from, for the proof to hold it against. */
export interface WrittenAudio {
  readonly planned: PlannedAudio;
  /** SHA-256 over the words as they went to the container. */
  readonly wordsSha256: string;
  /** Highest magnitude that was written, linear. */
  readonly samplePeak: number;
}

/**
 * Writes everything a plan lists. Files of one rate that follow each other without a hole share one dither stream, so
 * that they are the programme, sample for sample, when laid end to end.
 * @param progress called with the seconds of audio written so far
 */
export async function renderPlan(
  plan: Plan,
  input: RenderInput,
  ports: RenderPorts,
  progress: Progress,
): Promise<WrittenAudio[]> {
  const written: WrittenAudio[] = [];
  const programmes = new Map<number, Programme>();
  let current: Stream | undefined;
  let doneSeconds = 0;
  for (const file of plan.audio) {
    let programme = programmes.get(file.rate);
    if (!programme) {
      programme = new Programme(input.sequence, input.layout, input.masters, file.rate);
      programmes.set(file.rate, programme);
    }
    const start = ticksToSamples(file.start, file.rate);
    if (current?.programme !== programme || current.position !== start) {
      current = new Stream(programme, file, start, soundOf(input.sequence, input.masters));
    }
    written.push(await writeAudio(file, current, ports, (seconds) => progress(doneSeconds + seconds)));
    doneSeconds += file.length / file.rate;
  }
  if (plan.sheet) {
    const sink = await ports.createFile(plan.sheet.path);
    await sink.write(encodeSheet(plan.sheet.cue));
    await sink.close();
  }
  return written;
}

/** The programme, shortened to a file's words, read in order from some sample on. */
class Stream {
  readonly #quantiser: Quantiser | undefined;
  /** Words already made but not yet asked for: blocks lie on the frame grid, files need not. */
  #rest: Block | undefined;

  constructor(
    readonly programme: Programme,
    file: PlannedAudio,
    public position: number,
    sound: string,
  ) {
    if (!isInteger(file.format)) return;
    const bits = wordBits(file.format);
    const seed = seedFromText(`${sound}|${file.dither}`);
    this.#quantiser = new Quantiser(
      bits,
      file.dither,
      seed,
      programme.touchedRanges(bits),
      programme.frameLength,
    );
  }

  /** The next samples, at most `most` and at most one block. */
  async next(most: number): Promise<Block> {
    const block = this.#rest ?? (await this.#fresh());
    const length = block.left.length;
    const taken = Math.min(most, length);
    this.#rest =
      taken < length ? { left: block.left.subarray(taken), right: block.right.subarray(taken) } : undefined;
    this.position += taken;
    return { left: block.left.subarray(0, taken), right: block.right.subarray(0, taken) };
  }

  async #fresh(): Promise<Block> {
    const grid = this.programme.frameLength;
    const start = Math.floor(this.position / grid) * grid;
    const block = await this.programme.read(start, grid * BLOCK_FRAMES);
    this.#quantiser?.process(block, start);
    const skip = this.position - start;
    return { left: block.left.subarray(skip), right: block.right.subarray(skip) };
  }
}

async function writeAudio(
  file: PlannedAudio,
  stream: Stream,
  ports: RenderPorts,
  progress: Progress,
): Promise<WrittenAudio> {
  const hash = ports.sha256();
  const sink = await openContainer(file, ports);
  let samplePeak = 0;
  try {
    for (let done = 0; done < file.length;) {
      const block = await stream.next(file.length - done);
      const words = encodeWords(block, file.format);
      hash.update(words);
      await sink.write(words);
      samplePeak = Math.max(samplePeak, peakOf(block.left), peakOf(block.right));
      done += block.left.length;
      await progress(done / file.rate);
    }
    await sink.close();
  } catch (error) {
    await sink.abort();
    throw error;
  }
  return { planned: file, wordsSha256: hash.digest(), samplePeak };
}

async function openContainer(file: PlannedAudio, ports: RenderPorts): Promise<FileSink> {
  switch (file.container) {
    case 'raw':
      return ports.createFile(file.path);
    case 'wav': {
      const sink = await ports.createFile(file.path);
      const wav = await WavWriter.begin(sink, file.format, file.rate, file.length);
      return {
        write: (words) => wav.write(words),
        close: async () => {
          wav.finish();
          await sink.close();
        },
        abort: () => sink.abort(),
      };
    }
    case 'flac': {
      if (file.format !== 'int16' && file.format !== 'int24')
        throw new RangeError(`FLAC holds 16 or 24 bits, not ${file.format}.`);
      return ports.encodeFlac(file.path, { rate: file.rate, format: file.format }, file.tags);
    }
    default:
      return file.container satisfies never;
  }
}

function peakOf(audio: Float64Array): number {
  let peak = 0;
  for (const value of audio) peak = Math.max(peak, Math.abs(value));
  return peak;
}

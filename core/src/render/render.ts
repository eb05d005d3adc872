import { CODINGS } from '../album/coding.js';
import type { Layout, Sequence } from '../album/sequence.js';
import { encodeCueSheet } from '../disc/cue-sheet.js';
import { checksumLines, DDP_SUMS, ddpFiles, ddpPaths } from '../disc/ddp.js';
import { Quantiser } from '../dsp/dither.js';
import { seedFromText } from '../dsp/random.js';
import { isInteger, wordBits, type Block, type PcmSource, type WordFormat } from '../pcm/block.js';
import { decodeWords, encodeWords } from '../pcm/words.js';
import type { EmbeddedPicture } from '../tags/flac-blocks.js';
import { ticksToSamples } from '../time/ticks.js';
import { openContainer, tagFile } from './containers.js';
import { digestOf } from './digest.js';
import { Envelope } from './envelope.js';
import type { Plan, PlannedAudio } from './planned.js';
import type { Progress, RenderPorts } from './ports.js';
import { Programme, soundOf } from './programme.js';

/** CD frames rendered at a time: 0.85 s, small enough to keep memory flat and a stop quick. */
const BLOCK_FRAMES = 64;

/** The audio behind an album, at hand for rendering. */
export interface RenderInput {
  readonly sequence: Sequence;
  readonly layout: Layout;
  /** One source for everything that sounds in the sequence, in order. */
  readonly masters: readonly PcmSource[];
  /** The cover as it is embedded; null where there is none. */
  readonly cover: EmbeddedPicture | null;
}

/** What a written file was made from, for the proof to hold it against. */
export interface WrittenAudio {
  readonly planned: PlannedAudio;
  /** SHA-256 over the words as they went to the container. */
  readonly wordsSha256: string;
  /** Highest magnitude that was written, linear. */
  readonly samplePeak: number;
  /** Null test: the largest difference of a written word to the programme, linear. */
  readonly residual: number;
  /** Power of each CD frame of a lossy file, to find what its decoder gives back in its place; else empty. */
  readonly envelope: Float64Array;
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
      // Shaped dither remembers: where a hidden song may still sound, an image that begins after the first pause begins as one does that holds it.
      const from = input.layout.hidden && file.dither === 'shaped' ? 0 : start;
      current = new Stream(programme, file, from, soundOf(input.sequence, input.masters));
      await current.skipTo(start);
    }
    written.push(await writeAudio(file, current, input, ports, (seconds) => progress(doneSeconds + seconds)));
    doneSeconds += file.length / file.rate;
  }
  await writeDescriptions(plan, ports);
  return written;
}

/** The files that describe the audio: a cue sheet, or a disc description with checksums of everything in it. */
async function writeDescriptions({ sheet, ddp }: Plan, ports: RenderPorts): Promise<void> {
  if (sheet) await writeFile(sheet.path, encodeCueSheet(sheet.cue), ports);
  if (!ddp) return;
  for (const { path, bytes } of ddpFiles(ddp)) await writeFile(path, bytes, ports);
  const sums: { path: string; md5: string }[] = [];
  for (const path of ddpPaths(ddp))
    sums.push({ path, md5: await digestOf(await ports.openFile(path), ports.md5()) });
  await writeFile(DDP_SUMS, new TextEncoder().encode(checksumLines(sums)), ports);
}

async function writeFile(path: string, bytes: Uint8Array, ports: RenderPorts): Promise<void> {
  const sink = await ports.createFile(path);
  await sink.write(bytes);
  await sink.close();
}

/** Words that are to be written, and the programme that they were made from. */
interface Shortened {
  readonly words: Block;
  readonly programme: Block;
}

const cut = ({ left, right }: Block, from: number, to?: number): Block => ({
  left: left.subarray(from, to),
  right: right.subarray(from, to),
});

/** The programme, shortened to a file's words, read in order from some sample on. */
class Stream {
  readonly #quantiser: Quantiser | undefined;
  /** Words already made but not yet asked for: blocks lie on the frame grid, files need not. */
  #rest: Shortened | undefined;

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
  async next(most: number): Promise<Shortened> {
    const { words, programme } = this.#rest ?? (await this.#fresh());
    const length = words.left.length;
    const taken = Math.min(most, length);
    this.#rest = taken < length ? { words: cut(words, taken), programme: cut(programme, taken) } : undefined;
    this.position += taken;
    return { words: cut(words, 0, taken), programme: cut(programme, 0, taken) };
  }

  /** Passes over samples, which leaves its marks on shaped dither. */
  async skipTo(position: number): Promise<void> {
    while (this.position < position) await this.next(position - this.position);
  }

  async #fresh(): Promise<Shortened> {
    const grid = this.programme.frameLength;
    const start = Math.floor(this.position / grid) * grid;
    const block = await this.programme.read(start, grid * BLOCK_FRAMES);
    const programme = { left: block.left.slice(), right: block.right.slice() };
    this.#quantiser?.process(block, start);
    const skip = this.position - start;
    return { words: cut(block, skip), programme: cut(programme, skip) };
  }
}

async function writeAudio(
  file: PlannedAudio,
  stream: Stream,
  input: RenderInput,
  ports: RenderPorts,
  progress: Progress,
): Promise<WrittenAudio> {
  const hash = ports.sha256();
  const sink = await openContainer(file, input.cover, ports);
  const envelope = new Envelope(file.rate);
  const lossy = file.coding !== 'raw' && CODINGS[file.coding].lossy;
  const extremes: Extremes = { peak: 0, residual: 0 };
  try {
    for (let done = 0; done < file.length;) {
      const { words: block, programme } = await stream.next(file.length - done);
      const words = encodeWords(block, file.format);
      hash.update(words);
      const stored = decodeWords(words, file.format, 2);
      compare(stored.left, programme.left, file.format, extremes);
      compare(stored.right, programme.right, file.format, extremes);
      if (lossy) envelope.push(stored);
      await sink.write(words);
      done += block.left.length;
      await progress(done / file.rate);
    }
    await sink.close();
    await tagFile(file, input.cover, ports);
  } catch (error) {
    await sink.abort();
    throw error;
  }
  const { peak: samplePeak, residual } = extremes;
  return { planned: file, wordsSha256: hash.digest(), samplePeak, residual, envelope: envelope.done() };
}

/** The highest stored magnitude and the largest difference to the programme so far, linear. */
interface Extremes {
  peak: number;
  residual: number;
}

/** Lays stored words against the programme, which is limited to what the words can hold. */
function compare(stored: Float64Array, wanted: Float64Array, format: WordFormat, so: Extremes): void {
  const highest = isInteger(format) ? 1 - 2 ** (1 - wordBits(format)) : Infinity;
  const lowest = isInteger(format) ? -1 : -Infinity;
  let { peak, residual } = so;
  for (let i = 0; i < stored.length; i++) {
    const word = stored[i] as number;
    const value = wanted[i] as number;
    const magnitude = Math.abs(word);
    if (magnitude > peak) peak = magnitude;
    const difference = Math.abs(word - (value > highest ? highest : value < lowest ? lowest : value));
    if (difference > residual) residual = difference;
  }
  so.peak = peak;
  so.residual = residual;
}

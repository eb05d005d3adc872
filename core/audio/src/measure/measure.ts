import { linearToDb } from '../dsp/gain.js';
import { kernels, type Kernels, type Placed } from '../kernels/kernels.js';
import { part, silence, type Block, type PcmSource, type WordFormat } from '../pcm/block.js';
import { decodePlaced, decodeWords } from '../pcm/words.js';
import type { JoinedMeter } from './joined-meter.js';
import { LoudnessMeter, type Loudness, type LoudnessState } from './loudness.js';
import { SignalMeter, type SignalHealth, type SignalState } from './signal.js';
import { TruePeakMeter, type TruePeakState } from './true-peak.js';

/** Samples that are read and measured at a time. */
const MEASURE_BLOCK = 16_384;

/** What is measured of any stretch of audio. */
export interface Measurement extends Loudness, Omit<SignalHealth, 'samplePeak'> {
  /** dBFS; null for digital silence. */
  readonly samplePeakDbfs: number | null;
  /** dBTP; null for digital silence. */
  readonly truePeakDbtp: number | null;
}

const decibels = (linear: number): number | null => (linear > 0 ? linearToDb(linear) : null);

/** What the meters of a stretch have found. */
export interface MetersState {
  readonly loudness: LoudnessState;
  readonly truePeak: TruePeakState;
  readonly signal: SignalState;
}

/** All meters over one stream. */
export class Meters implements JoinedMeter<MetersState> {
  readonly #loudness: LoudnessMeter;
  readonly #truePeak: TruePeakMeter;
  readonly #signal: SignalMeter;

  /** @param start a whole number of seconds, in samples: where what is pushed begins */
  constructor(
    rate: number,
    readonly format: WordFormat,
    start = 0,
  ) {
    this.#loudness = new LoudnessMeter(rate, start);
    this.#truePeak = new TruePeakMeter(rate);
    this.#signal = new SignalMeter(format, start);
  }

  get state(): MetersState {
    return { loudness: this.#loudness.state, truePeak: this.#truePeak.state, signal: this.#signal.state };
  }

  join({ loudness, truePeak, signal }: MetersState): void {
    this.#loudness.join(loudness);
    this.#truePeak.join(truePeak);
    this.#signal.join(signal);
  }

  /** Lets the meters hear what comes right before the start. */
  lead(block: Block): void {
    this.#loudness.lead(block);
    this.#truePeak.lead(block);
  }

  push(block: Block): void {
    if (kernels) {
      kernels.begin();
      this.pushPlaced(kernels, kernels.place(block));
      return;
    }
    this.#loudness.push(block);
    this.#truePeak.push(block);
    this.#signal.push(block);
  }

  /** Interleaved little-endian stereo words of the format. */
  pushWords(words: Uint8Array): void {
    if (kernels) {
      kernels.begin();
      this.pushPlaced(kernels, decodePlaced(kernels, words, this.format));
    } else this.push(decodeWords(words, this.format, 2));
  }

  pushPlaced(machine: Kernels, placed: Placed): void {
    this.#loudness.pushPlaced(machine, placed);
    this.#truePeak.pushPlaced(machine, placed);
    this.#signal.pushPlaced(machine, placed);
  }

  /** Mean power of each 100 ms: see `loudnessOverTime`. */
  powers(): Float64Array<ArrayBuffer> {
    return this.#loudness.powers();
  }
  result(): Measurement {
    const { samplePeak, ...signal } = this.#signal.result();
    return {
      ...this.#loudness.result(),
      ...signal,
      samplePeakDbfs: decibels(samplePeak),
      truePeakDbtp: decibels(this.#truePeak.result()),
    };
  }
}

/** Reads a source once, in order, handing each block to `consume`, which is done with it when it returns; `progress` gets the share done, 0 to 1. */
export async function readThrough(
  source: PcmSource,
  consume: (block: Block) => void,
  progress?: (share: number) => Promise<void> | void,
): Promise<void> {
  const room = silence(MEASURE_BLOCK);
  for (let start = 0; start < source.length; start += MEASURE_BLOCK) {
    const count = Math.min(MEASURE_BLOCK, source.length - start);
    consume(await source.read(start, count, part(room, 0, count)));
    await progress?.((start + count) / source.length);
  }
}

import { kernels, type Kernels, type Placed } from '../kernels/kernels.js';
import type { Block, WordFormat } from '../pcm/block.js';
import { decodePlaced, decodeWords } from '../pcm/words.js';
import { BitsMeter, type BitsState } from './bits.js';
import { DitherTraceMeter, type DitherTrace, type DitherTraceState } from './dither-trace.js';
import type { JoinedMeter } from './joined-meter.js';
import { Meters, type Measurement, type MetersState } from './measure.js';
import { type Silhouette, SilhouetteMeter, type SilhouetteState } from './silhouette.js';
import { SoundEdgesMeter, type SoundEdges, type SoundEdgesState } from './sound-edges.js';
import { SpectrumMeter, type SpectrumState } from './spectrum.js';
import type { UpperEnd } from './upper-edge.js';

/** Everything that is measured of a master, once (docs/rules.md 12.1). */
export interface MasterMeasurement extends Measurement, SoundEdges {
  /** Bits of the words that are really used; null for float words that are no whole numbers. */
  readonly bitsUsed: number | null;
  /** Whether the low bits look like dither. */
  readonly ditherTrace: DitherTrace;
  /** dB in each of THIRD_OCTAVES_HZ; null where nothing is there. */
  readonly thirdOctavesDb: readonly (number | null)[];
  /** The upper end of the spectrum; null for silence, and where it was measured before this was looked at. */
  readonly upperEnd: UpperEnd | null;
}

/** What the meters of a stretch of a master have found. */
export interface FiguresState {
  readonly meters: MetersState;
  readonly bits: BitsState;
  readonly dither: DitherTraceState;
  readonly edges: SoundEdgesState;
  readonly spectrum: SpectrumState;
}

/** All meters of a master’s figures, in one pass. */
export class FigureMeters implements JoinedMeter<FiguresState> {
  readonly #meters: Meters;
  readonly #bits: BitsMeter;
  readonly #dither: DitherTraceMeter;
  readonly #edges: SoundEdgesMeter;
  readonly #spectrum: SpectrumMeter;

  /** @param start a whole number of seconds, in samples: where what is pushed begins */
  constructor(rate: number, format: WordFormat, start = 0) {
    this.#meters = new Meters(rate, format, start);
    this.#bits = new BitsMeter(format);
    this.#dither = new DitherTraceMeter(start);
    this.#edges = new SoundEdgesMeter(start);
    this.#spectrum = new SpectrumMeter(rate, start);
  }

  get state(): FiguresState {
    return {
      ...{ meters: this.#meters.state, bits: this.#bits.state, dither: this.#dither.state },
      ...{ edges: this.#edges.state, spectrum: this.#spectrum.state },
    };
  }

  join({ meters, bits, dither, edges, spectrum }: FiguresState): void {
    this.#meters.join(meters);
    this.#bits.join(bits);
    this.#dither.join(dither);
    this.#edges.join(edges);
    this.#spectrum.join(spectrum);
  }

  /** Lets the meters hear what comes right before the start. */
  lead(block: Block): void {
    this.#meters.lead(block);
  }

  /** Lets those that look at whole windows hear what follows the stretch. */
  trail(block: Block): void {
    this.#dither.trail(block);
    this.#spectrum.trail(block);
  }

  /** Nothing follows any more. */
  end(): void {
    this.#spectrum.end();
  }

  push(block: Block): void {
    this.#meters.push(block);
    this.#look(block);
    this.#spectrum.push(block);
  }

  /** The same for a block that lies in the memory of the kernels. */
  pushPlaced(machine: Kernels, placed: Placed): void {
    this.#meters.pushPlaced(machine, placed);
    this.#look(machine.view(placed));
    // It goes last: its transform takes the memory of the kernels.
    this.#spectrum.pushPlaced(machine, placed);
  }

  #look(block: Block): void {
    this.#bits.push(block);
    this.#dither.push(block);
    this.#edges.push(block);
  }

  /** Mean power of each 100 ms: see `loudnessOverTime`. */
  powers(): Float64Array<ArrayBuffer> {
    return this.#meters.powers();
  }

  /** To be asked for once, at the end. */
  result(): MasterMeasurement {
    const bitsUsed = this.#bits.result();
    return {
      ...this.#meters.result(),
      ...this.#edges.result(),
      bitsUsed,
      ditherTrace: this.#dither.result(bitsUsed),
      thirdOctavesDb: this.#spectrum.result(),
      upperEnd: this.#spectrum.upperEnd(),
    };
  }
}

/** What the meters of a stretch of a master have found, and how it looks. */
export interface MasterState {
  readonly figures: FiguresState;
  readonly silhouette: SilhouetteState;
}

/** The figures of a master and how it looks, in one pass. */
export class MasterMeters implements JoinedMeter<MasterState> {
  readonly #figures: FigureMeters;
  readonly #silhouette: SilhouetteMeter;

  /**
   * @param length samples of one channel that will be pushed, or joined
   * @param start a whole number of seconds, in samples: where they begin
   */
  constructor(
    rate: number,
    readonly format: WordFormat,
    length: number,
    start = 0,
  ) {
    this.#figures = new FigureMeters(rate, format, start);
    this.#silhouette = new SilhouetteMeter(rate, length, start);
  }

  /** To be asked for once, when everything was pushed. */
  get state(): MasterState {
    return { figures: this.#figures.state, silhouette: this.#silhouette.state };
  }

  join({ figures, silhouette }: MasterState): void {
    this.#figures.join(figures);
    this.#silhouette.join(silhouette);
  }

  lead(block: Block): void {
    this.#figures.lead(block);
  }
  trail(block: Block): void {
    this.#figures.trail(block);
  }
  end(): void {
    this.#figures.end();
  }

  push(block: Block): void {
    this.#silhouette.push(block);
    this.#figures.push(block);
  }

  /** Interleaved little-endian stereo words of the format. */
  pushWords(words: Uint8Array): void {
    if (!kernels) {
      this.push(decodeWords(words, this.format, 2));
      return;
    }
    kernels.begin();
    const placed = decodePlaced(kernels, words, this.format);
    this.#silhouette.pushPlaced(kernels, placed);
    this.#figures.pushPlaced(kernels, placed);
  }

  /** To be asked for once, at the end. */
  result(): {
    measurement: MasterMeasurement;
    silhouette: Silhouette;
    /** Mean power of each 100 ms: see `loudnessOverTime`. */
    powers: Float64Array<ArrayBuffer>;
  } {
    return {
      measurement: this.#figures.result(),
      silhouette: this.#silhouette.result(),
      powers: this.#figures.powers(),
    };
  }
}

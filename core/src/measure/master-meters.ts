import type { Block, WordFormat } from '../pcm/block.js';
import { BitsMeter } from './bits.js';
import { DitherTraceMeter, type DitherTrace } from './dither-trace.js';
import { Meters, type Measurement } from './measure.js';
import { type Silhouette, SilhouetteMeter } from './silhouette.js';
import { SoundEdgesMeter, type SoundEdges } from './sound-edges.js';
import { SpectrumMeter } from './spectrum.js';
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

/** All meters of a master’s figures, in one pass. */
export class FigureMeters {
  readonly #meters: Meters;
  readonly #bits: BitsMeter;
  readonly #dither = new DitherTraceMeter();
  readonly #edges = new SoundEdgesMeter();
  readonly #spectrum: SpectrumMeter;

  constructor(rate: number, format: WordFormat) {
    this.#meters = new Meters(rate, format);
    this.#bits = new BitsMeter(format);
    this.#spectrum = new SpectrumMeter(rate);
  }

  push(block: Block): void {
    this.#meters.push(block);
    this.#bits.push(block);
    this.#dither.push(block);
    this.#edges.push(block);
    this.#spectrum.push(block);
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

/** The figures of a master and how it looks, in one pass. */
export class MasterMeters {
  readonly #figures: FigureMeters;
  readonly #silhouette: SilhouetteMeter;

  /** @param length samples of one channel that will be pushed */
  constructor(rate: number, format: WordFormat, length: number) {
    this.#figures = new FigureMeters(rate, format);
    this.#silhouette = new SilhouetteMeter(rate, length);
  }

  push(block: Block): void {
    this.#figures.push(block);
    this.#silhouette.push(block);
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

import type { Block } from '../pcm/block.js';
import { KWeightedPower } from './k-weighting.js';
import { TruePeakMeter } from './true-peak.js';

/** Power is kept for each 10 ms, as long as the longest window needs it. */
const STEPS_A_SECOND = 100;
const MOMENTARY_STEPS = 40;
const SHORT_TERM_STEPS = 300;
/** What is quieter than the absolute gate of R 128 is silence to an ear. */
const FLOOR_LUFS = -70;

/** What meters show of the sound that is heard now. */
export interface LiveReading {
  /** Highest since the last reading, linear. */
  readonly samplePeak: number;
  readonly truePeak: number;
  /** LUFS over the last 400 ms and 3 s [EBU R 128]; null for silence, or until so much has been heard. */
  readonly momentaryLufs: number | null;
  readonly shortTermLufs: number | null;
  /** −1 to 1 over the last 400 ms; null where a channel is silent. */
  readonly correlation: number | null;
}

/** Sums of one step of 10 ms. */
interface Step {
  weighted: number;
  left: number;
  right: number;
  cross: number;
}

/** Meters for a stream that is listened to: fed as it sounds, read as often as they are drawn. Memory stays as it is. */
export class LiveMeters {
  readonly #weighted: KWeightedPower;
  readonly #truePeak: TruePeakMeter;
  readonly #stepLength: number;
  readonly #steps: Step[] = [];
  #open: Step = { weighted: 0, left: 0, right: 0, cross: 0 };
  #filled = 0;
  #samplePeak = 0;

  /** @param rate a multiple of 100 Hz */
  constructor(rate: number) {
    this.#weighted = new KWeightedPower(rate);
    this.#truePeak = new TruePeakMeter(rate);
    this.#stepLength = Math.round(rate / STEPS_A_SECOND);
  }

  push(block: Block): void {
    const { left, right } = block;
    this.#truePeak.push(block);
    for (let at = 0; at < left.length;) {
      const end = Math.min(left.length, at + this.#stepLength - this.#filled);
      const open = this.#open;
      open.weighted += this.#weighted.over(block, at, end);
      for (let i = at; i < end; i++) {
        const l = left[i] as number;
        const r = right[i] as number;
        open.left += l * l;
        open.right += r * r;
        open.cross += l * r;
        this.#samplePeak = Math.max(this.#samplePeak, Math.abs(l), Math.abs(r));
      }
      this.#filled += end - at;
      at = end;
      if (this.#filled === this.#stepLength) this.#close();
    }
  }

  #close(): void {
    this.#steps.push(this.#open);
    if (this.#steps.length > SHORT_TERM_STEPS) this.#steps.shift();
    this.#open = { weighted: 0, left: 0, right: 0, cross: 0 };
    this.#filled = 0;
  }

  /** Figures of now; the peaks start anew. */
  read(): LiveReading {
    const samplePeak = this.#samplePeak;
    this.#samplePeak = 0;
    const recent = this.#steps.slice(-MOMENTARY_STEPS);
    const sum = (of: (step: Step) => number): number => recent.reduce((total, step) => total + of(step), 0);
    const power = Math.sqrt(sum(({ left }) => left) * sum(({ right }) => right));
    return {
      samplePeak,
      truePeak: this.#truePeak.take(),
      momentaryLufs: this.#loudness(MOMENTARY_STEPS),
      shortTermLufs: this.#loudness(SHORT_TERM_STEPS),
      correlation: power > 0 ? Math.max(-1, Math.min(1, sum(({ cross }) => cross) / power)) : null,
    };
  }

  #loudness(count: number): number | null {
    if (this.#steps.length < count) return null;
    const sum = this.#steps.slice(-count).reduce((total, { weighted }) => total + weighted, 0);
    const lufs = -0.691 + 10 * Math.log10(sum / (count * this.#stepLength));
    return lufs > FLOOR_LUFS ? lufs : null;
  }
}

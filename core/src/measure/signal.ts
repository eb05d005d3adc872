import type { Block, WordFormat } from '../pcm/block.js';
import { isInteger, wordBits } from '../pcm/block.js';

/** Samples in a row at full scale that count as a clipped run (trade.md 6). */
const CLIPPED_RUN = 3;

export interface SignalHealth {
  /** Highest magnitude of any sample, linear. */
  readonly samplePeak: number;
  /** Position of the first sample that reaches it. */
  readonly samplePeakAt: number;
  /** Runs of 3 or more samples at full scale, in either channel. */
  readonly clippedRuns: number;
  /** Mean of the channel further from zero, linear, signed. */
  readonly dcOffset: number;
  /** −1 to 1; null where a channel is silent. */
  readonly correlation: number | null;
}

/** Streaming statistics of the samples themselves. */
export class SignalMeter {
  readonly #fullScale: number;
  #length = 0;
  #peak = 0;
  #peakAt = 0;
  #clippedRuns = 0;
  readonly #run = [0, 0];
  #sumLeft = 0;
  #sumRight = 0;
  #powerLeft = 0;
  #powerRight = 0;
  #cross = 0;

  /** @param format the words the samples came from: full scale of an integer word is its largest positive value */
  constructor(format: WordFormat) {
    this.#fullScale = isInteger(format) ? 1 - 2 ** (1 - wordBits(format)) : 1;
  }

  push({ left, right }: Block): void {
    for (let i = 0; i < left.length; i++) {
      const l = left[i] as number;
      const r = right[i] as number;
      const magnitude = Math.max(Math.abs(l), Math.abs(r));
      if (magnitude > this.#peak) {
        this.#peak = magnitude;
        this.#peakAt = this.#length + i;
      }
      if (magnitude >= this.#fullScale || this.#run[0] || this.#run[1]) {
        this.#countRun(0, Math.abs(l));
        this.#countRun(1, Math.abs(r));
      }
      this.#sumLeft += l;
      this.#sumRight += r;
      this.#powerLeft += l * l;
      this.#powerRight += r * r;
      this.#cross += l * r;
    }
    this.#length += left.length;
  }

  #countRun(channel: 0 | 1, magnitude: number): void {
    const run = magnitude >= this.#fullScale ? (this.#run[channel] as number) + 1 : 0;
    if (run === CLIPPED_RUN) this.#clippedRuns++;
    this.#run[channel] = run;
  }

  result(): SignalHealth {
    const left = this.#sumLeft / Math.max(1, this.#length);
    const right = this.#sumRight / Math.max(1, this.#length);
    const power = Math.sqrt(this.#powerLeft * this.#powerRight);
    return {
      samplePeak: this.#peak,
      samplePeakAt: this.#peakAt,
      clippedRuns: this.#clippedRuns,
      dcOffset: Math.abs(left) >= Math.abs(right) ? left : right,
      correlation: power > 0 ? Math.max(-1, Math.min(1, this.#cross / power)) : null,
    };
  }
}

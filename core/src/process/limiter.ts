import { DB_OF_LOG2, gainsOfDb, log2 } from '../dsp/exponent.js';
import { dbToLinear } from '../dsp/gain.js';
import { CHANNELS, type Block, type PcmSource } from '../pcm/block.js';
import type { Limiter } from './limiter-settings.js';
import { KeptSource } from './kept-source.js';
import { raiseToPeaks, SIDE } from './peaks.js';
import { RideSource } from './ride.js';
import { rideIsNeutral } from './ride-settings.js';
import { RecursiveSource, settleOf, type Recursion } from './recursive-source.js';

/** How long before a peak the gain begins to fall, seconds. */
const AHEAD_SECONDS = 0.005;
/** What is aimed at below the ceiling, dB: a gain that falls bends what lies between the samples a little. */
const MARGIN_DB = 0.02;
/** So small a reduction is none, dB. */
const NONE_DB = 1e-9;

/** Reductions are told in whole numbers of this, dB: their sums are exact, so that a sum that goes on is the same wherever it began. */
const QUANTUM_DB = 2 ** -20;

/**
 * What the driven signal must be reduced by at each sample, dB, 0 or more, with what it gives back by and by: it falls at once and rises as
 * the release says. Both channels carry it, so that what is a recursion has a source like any other.
 */
class ReductionRun implements Recursion {
  #reduction = 0;

  constructor(readonly decay: number) {}

  run({ left, right }: Block): void {
    for (let i = 0; i < left.length; i++) {
      this.#reduction = Math.max(left[i] as number, this.decay * this.#reduction);
      if (this.#reduction < NONE_DB) this.#reduction = 0;
      left[i] = right[i] = this.#reduction;
    }
  }

  tidy(): void {
    // What is too small is taken for nothing with each sample.
  }
}

/** Reductions in dB that each sample of a driven source needs by itself, as a source: a function of the samples around it alone. */
function needsOf(source: PcmSource, { ceiling }: Limiter): PcmSource {
  const most = dbToLinear(ceiling);
  const aim = dbToLinear(ceiling - MARGIN_DB);
  return {
    ...{ rate: source.rate, length: source.length, format: 'float64' as const },
    read: async (start, count) => {
      // A point needs 16 samples on each side, and each sample hears of the points up to 16 samples from it.
      const audio = await source.read(start - 2 * SIDE + 1, count + 4 * SIDE + 3);
      const peaks = new Float64Array(4 * Math.ceil((count + 2 * SIDE - 1) / 4));
      for (const channel of CHANNELS) raiseToPeaks(audio[channel], most, peaks);
      const left = new Float64Array(count);
      slidingMaximum(peaks, 2 * SIDE, left);
      for (let i = 0; i < count; i++) {
        const peak = left[i] as number;
        left[i] = peak > most ? 2 * DB_OF_LOG2 * log2(peak / aim) : 0;
      }
      return { left, right: left };
    },
  };
}

/** A source through a limiter: one gain for both channels, which begins to fall before a peak and is back after it (docs/rules.md 10). */
export class LimitedSource implements PcmSource {
  readonly format = 'float64' as const;
  readonly #driven: PcmSource;
  readonly #reductions: PcmSource;
  readonly #ceiling: number;
  readonly #ahead: number;

  constructor(
    readonly source: PcmSource,
    readonly settings: Limiter,
  ) {
    const decay = Math.exp(-1000 / (settings.release * source.rate));
    this.#driven = new KeptSource(
      rideIsNeutral(settings.drive) ? source : new RideSource(source, settings.drive),
    );
    const reductions = new RecursiveSource(needsOf(this.#driven, settings), {
      settle: settleOf(decay),
      begin: () => new ReductionRun(decay),
    });
    this.#reductions = new KeptSource(reductions);
    this.#ceiling = dbToLinear(settings.ceiling);
    this.#ahead = Math.max(1, Math.floor(AHEAD_SECONDS * source.rate) - SIDE);
  }

  get rate(): number {
    return this.source.rate;
  }
  get length(): number {
    return this.source.length;
  }

  async read(start: number, count: number): Promise<Block> {
    // What looks ahead goes first, so that what is written finds its samples kept.
    const reductions = await this.reductions(start, count);
    const limited = await this.#driven.read(start, count);
    if (reductions.every((reduction) => reduction === 0)) return limited;
    const gains = gainsOfDb(reductions.map((reduction) => -reduction));
    const ceiling = this.#ceiling;
    for (const channel of CHANNELS) {
      const audio = limited[channel];
      for (let i = 0; i < count; i++) {
        const gain = gains[i] as number;
        if (gain === 1) continue;
        // The last bit of a product may lie over the ceiling.
        audio[i] = Math.max(-ceiling, Math.min(ceiling, (audio[i] as number) * gain));
      }
    }
    return limited;
  }

  /** What each sample is reduced by, dB, 0 or more: no less than it needs, and smoothly on the way there. */
  async reductions(start: number, count: number): Promise<Float64Array> {
    const ahead = this.#ahead;
    // The highest of the next `ahead` samples, then the mean of the last `ahead` of those: at a peak all of them hold it.
    const first = start - ahead;
    const { left: held } = await this.#reductions.read(first, count + 2 * ahead + 1);
    const smooth = new Float64Array(count);
    if (held.every((reduction) => reduction === 0)) return smooth;
    const whole = held.map((reduction) => Math.ceil(reduction / QUANTUM_DB));
    const highest = new Float64Array(count + ahead);
    slidingMaximum(whole, ahead + 1, highest);
    // A mean of means of means: a gain that falls through it has no corner.
    const widths = [0, 1, 2].map((which) => Math.floor((ahead + 3 + which) / 3));
    const sums = widths.reduce(slidingSum, highest);
    const share = widths.reduce((all, width) => all * width, 1) / QUANTUM_DB;
    for (let i = 0; i < count; i++) smooth[i] = (sums[i] as number) / share;
    return smooth;
  }
}

/** Sums of `width` whole numbers from each place on, as many as there are such places. */
function slidingSum(values: Float64Array, width: number): Float64Array {
  const sums = new Float64Array(values.length - width + 1);
  let sum = 0;
  for (let i = 0; i < width - 1; i++) sum += values[i] as number;
  for (let i = 0; i < sums.length; i++) {
    sum += values[i + width - 1] as number;
    sums[i] = sum;
    sum -= values[i] as number;
  }
  return sums;
}

/**
 * The highest of `width` values from each place on: of each stretch of that length the highest so far, backwards and forwards, of which one of
 * each make any window.
 * @param into as long as there are such places, or shorter
 */
function slidingMaximum(values: Float64Array, width: number, into: Float64Array): void {
  const length = into.length + width - 1;
  const back = new Float64Array(length);
  for (let from = 0; from < length; from += width) {
    const end = Math.min(length, from + width);
    let most = (back[end - 1] = values[end - 1] as number);
    for (let i = end - 2; i >= from; i--) {
      const value = values[i] as number;
      if (value > most) most = value;
      back[i] = most;
    }
  }
  // The first window is a whole stretch, which the way back has seen.
  let forth = 0;
  for (let place = 0; place < into.length; place++) {
    const i = place + width - 1;
    const value = values[i] as number;
    forth = i % width > 0 && forth > value ? forth : value;
    const before = back[place] as number;
    into[place] = before > forth ? before : forth;
  }
}

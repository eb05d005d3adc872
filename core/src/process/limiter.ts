import { dbToLinear } from '../dsp/gain.js';
import { CHANNELS, type Block, type PcmSource } from '../pcm/block.js';
import { z } from '../schema/z.js';
import { KeptSource } from './kept-source.js';
import { movingDb } from './moving.js';
import { rideIsNeutral, RideSource } from './ride.js';
import { RecursiveSource, settleOf, type Recursion } from './recursive-source.js';

export const limiterSchema = z.strictObject({
  /** Before it, dB. */
  drive: movingDb(-24, 24),
  /** dBTP. */
  ceiling: z.number().min(-20).max(0),
  /** ms in which 63 % of a reduction in dB is given back. */
  release: z.number().min(1).max(5000),
});
export type Limiter = z.output<typeof limiterSchema>;

/** Points at which the true peak is looked for between two samples, and weights on each side of one. */
const POINTS = 8;
const HALF = 16;
const TAPS = 2 * HALF;
/** How long before a peak the gain begins to fall, seconds. */
const AHEAD_SECONDS = 0.005;
/** What is aimed at below the ceiling, dB: a gain that falls bends what lies between the samples a little. */
const MARGIN_DB = 0.02;
/** So small a reduction is none, dB. */
const NONE_DB = 1e-9;

/** Weights of a windowed sinc at the points between two samples. */
const WEIGHTS = Array.from({ length: POINTS - 1 }, (_, i) => {
  const share = (i + 1) / POINTS;
  return Float64Array.from({ length: TAPS }, (_, tap) => {
    const x = share + HALF - 1 - tap;
    const window = Math.cos((Math.PI * x) / (2 * HALF)) ** 2;
    return (Math.sin(Math.PI * x) / (Math.PI * x)) * window;
  });
});
/** The most that a full-scale signal can reach at any of the points. */
const REACH = Math.max(...WEIGHTS.map((row) => row.reduce((sum, weight) => sum + Math.abs(weight), 0)));

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

/** The highest magnitude at a sample and at the points up to the next one. `at` is the sample's place, with 16 samples before and after it. */
function peakFrom(audio: Float64Array, at: number): number {
  let peak = Math.abs(audio[at] as number);
  for (const row of WEIGHTS) {
    let value = 0;
    for (let tap = 0; tap < TAPS; tap++)
      value += (row[tap] as number) * (audio[at + 1 - HALF + tap] as number);
    peak = Math.max(peak, Math.abs(value));
  }
  return peak;
}

/** Reductions in dB that each sample of a driven source needs by itself, as a source: a function of the samples around it alone. */
function needsOf(source: PcmSource, { ceiling }: Limiter): PcmSource {
  const most = dbToLinear(ceiling);
  const aim = dbToLinear(ceiling - MARGIN_DB);
  return {
    ...{ rate: source.rate, length: source.length, format: 'float64' as const },
    read: async (start, count) => {
      // A point needs 16 samples on each side, and each sample hears of the points up to 16 samples from it.
      const first = start - 2 * HALF;
      const audio = await source.read(first, count + 4 * HALF);
      const peaks = new Float64Array(count + 2 * HALF);
      for (const channel of CHANNELS) {
        const side = audio[channel];
        for (let i = 0; i < peaks.length; i++) {
          const at = i + HALF;
          let around = 0;
          for (let tap = 1 - HALF; tap <= HALF; tap++)
            around = Math.max(around, Math.abs(side[at + tap] as number));
          if (around * REACH > most) peaks[i] = Math.max(peaks[i] as number, peakFrom(side, at));
        }
      }
      const left = new Float64Array(count);
      for (let i = 0; i < count; i++) {
        let peak = 0;
        for (let k = i; k <= i + 2 * HALF - 1; k++) peak = Math.max(peak, peaks[k] as number);
        if (peak > most) left[i] = 20 * Math.log10(peak / aim);
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
    this.#ahead = Math.max(1, Math.floor(AHEAD_SECONDS * source.rate) - HALF);
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
    for (let i = 0; i < count; i++) {
      const reduction = reductions[i] as number;
      if (reduction === 0) continue;
      const gain = dbToLinear(-reduction);
      for (const channel of CHANNELS) {
        const value = (limited[channel][i] as number) * gain;
        // The last bit of a product may lie over it.
        limited[channel][i] = Math.max(-this.#ceiling, Math.min(this.#ceiling, value));
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
    const highest = new Float64Array(count + ahead + 1);
    slidingMaximum(held, ahead + 1, highest);
    const smooth = new Float64Array(count);
    const weights = windowOf(ahead);
    for (let i = 0; i < count; i++) {
      let any = 0;
      for (let k = i; k <= i + ahead; k++) if ((any = highest[k] as number) > 0) break;
      if (any === 0) continue;
      let sum = 0;
      for (let k = 0; k <= ahead; k++) sum += (highest[i + k] as number) * (weights[k] as number);
      smooth[i] = sum;
    }
    return smooth;
  }
}

const windows = new Map<number, Float64Array>();

/** Weights that rise and fall smoothly and make 1 together: a gain that falls through them has no corner. */
function windowOf(ahead: number): Float64Array {
  const known = windows.get(ahead);
  if (known) return known;
  const raw = Float64Array.from(
    { length: ahead + 1 },
    (_, k) => Math.sin((Math.PI * (k + 0.5)) / (ahead + 1)) ** 2,
  );
  const sum = raw.reduce((all, weight) => all + weight, 0);
  const made = raw.map((weight) => weight / sum);
  windows.set(ahead, made);
  return made;
}

/** The highest of `width` values from each place on. @param into as long as there are such places */
function slidingMaximum(values: Float64Array, width: number, into: Float64Array): void {
  // Places of values that may yet be the highest, the highest first.
  const waiting: number[] = [];
  let first = 0;
  for (let i = 0; i < values.length; i++) {
    while (
      waiting.length > first &&
      (values[waiting[waiting.length - 1] as number] as number) <= (values[i] as number)
    )
      waiting.pop();
    waiting.push(i);
    const place = i - width + 1;
    if (place < 0 || place >= into.length) continue;
    while ((waiting[first] as number) < place) first++;
    into[place] = values[waiting[first] as number] as number;
  }
}

import { kernels, type Kernels, type Placed } from '../kernels/kernels.js';
import { type Block, type WordFormat, isInteger, wordBits } from '../pcm/block.js';
import type { JoinedMeter } from './joined-meter.js';

/** Samples in a row at full scale that count as a clipped run (docs/rules.md 6.2). */
const CLIPPED_RUN = 3;
/** Clipped runs whose places are kept; beyond them only their number is. */
const MOST_PLACES = 1000;

/** A run of samples at full scale. */
export interface ClippedRun {
  /** Sample of its start. */
  readonly at: number;
  /** Samples, 3 or more. */
  readonly length: number;
  readonly channel: 'left' | 'right';
}

export interface SignalHealth {
  /** Highest magnitude of any sample, linear. */
  readonly samplePeak: number;
  /** Position of the first sample that reaches it. */
  readonly samplePeakAt: number;
  /** Runs of 3 or more samples at full scale, in either channel. */
  readonly clippedRuns: number;
  /** The first 1,000 of them, in the order of their ends. */
  readonly clipped: readonly ClippedRun[];
  /** Mean of all samples, linear, signed. */
  readonly dcLeft: number;
  readonly dcRight: number;
  /** −1 to 1; null where a channel is silent. */
  readonly correlation: number | null;
}

/** What the statistics of a stretch are. Positions count from the start of the source. */
export interface SignalState {
  readonly end: number;
  readonly peak: number;
  readonly peakAt: number;
  /** Of left, of right, of their squares, and of their products. */
  readonly sums: readonly [number, number, number, number, number];
  /** Samples at full scale with which the stretch begins, and with which it ends, of left and right. */
  readonly first: readonly [number, number];
  readonly last: readonly [number, number];
  /** Runs between those. */
  readonly clippedRuns: number;
  readonly clipped: readonly ClippedRun[];
}

const CHANNEL_NAMES = ['left', 'right'] as const;
const endOf = ({ at, length }: ClippedRun): number => at + length;

/** Streaming statistics of the samples themselves. */
export class SignalMeter implements JoinedMeter<SignalState> {
  readonly #fullScale: number;
  #clipped: ClippedRun[] = [];
  /** Samples at full scale with which a stretch that goes on from another begins; null as long as they have not ended. */
  readonly #first: [number | null, number | null];
  readonly #start: number;
  /** Samples at full scale up to now, of left and right. */
  readonly #run = [0, 0];
  #clippedRuns = 0;
  /** The sample behind the last one. */
  #length: number;
  #peak = 0;
  #peakAt = 0;
  #sumLeft = 0;
  #sumRight = 0;
  #powerLeft = 0;
  #powerRight = 0;
  #cross = 0;

  /**
   * @param format the words the samples came from: full scale of an integer word is its largest positive value
   * @param start sample at which what is pushed begins
   */
  constructor(format: WordFormat, start = 0) {
    this.#fullScale = isInteger(format) ? 1 - 2 ** (1 - wordBits(format)) : 1;
    this.#start = this.#length = start;
    this.#first = start === 0 ? [0, 0] : [null, null];
  }

  get state(): SignalState {
    const length = this.#length - this.#start;
    const first = this.#first.map((run) => run ?? length) as [number, number];
    return {
      ...{ end: this.#length, peak: this.#peak, peakAt: this.#peakAt, first },
      sums: [this.#sumLeft, this.#sumRight, this.#powerLeft, this.#powerRight, this.#cross],
      last: [this.#run[0] ?? 0, this.#run[1] ?? 0],
      ...{ clippedRuns: this.#clippedRuns, clipped: this.#clipped },
    };
  }

  join(next: SignalState): void {
    const start = this.#length;
    if (next.peak > this.#peak) [this.#peak, this.#peakAt] = [next.peak, next.peakAt];
    const [sumLeft, sumRight, powerLeft, powerRight, cross] = next.sums;
    this.#sumLeft += sumLeft;
    this.#sumRight += sumRight;
    this.#powerLeft += powerLeft;
    this.#powerRight += powerRight;
    this.#cross += cross;
    for (const channel of [0, 1] as const) {
      const run = (this.#run[channel] as number) + next.first[channel];
      this.#run[channel] = run;
      // At full scale throughout, it goes on.
      if (next.first[channel] === next.end - start) continue;
      this.#close(channel, start + next.first[channel]);
      this.#run[channel] = next.last[channel];
    }
    this.#clippedRuns += next.clippedRuns;
    // In the order of their ends: one that began before may end after the first of the others.
    this.#clipped = [...this.#clipped, ...next.clipped]
      .sort((a, b) => endOf(a) - endOf(b) || (a.channel < b.channel ? -1 : a.channel > b.channel ? 1 : 0))
      .slice(0, MOST_PLACES);
    this.#length = next.end;
  }

  push(block: Block): void {
    if (kernels) {
      kernels.begin();
      this.pushPlaced(kernels, kernels.place(block));
    } else this.#add(block, statisticsReference(block));
  }

  pushPlaced(machine: Kernels, { left, right, length }: Placed): void {
    const at = machine.take(8 * SUMS);
    machine.call.statistics(left, right, length, at);
    const block = { left: machine.doubles(left, length), right: machine.doubles(right, length) };
    this.#add(block, machine.doubles(at, SUMS));
  }

  #add({ left, right }: Block, sums: Float64Array): void {
    const [sumLeft = 0, sumRight = 0, powerLeft = 0, powerRight = 0, cross = 0, peak = 0] = sums;
    this.#sumLeft += sumLeft;
    this.#sumRight += sumRight;
    this.#powerLeft += powerLeft;
    this.#powerRight += powerRight;
    this.#cross += cross;
    // Most blocks neither clip nor hold a new peak: only those that do are looked at sample by sample.
    if (peak > this.#peak) {
      this.#peak = peak;
      const places = [left, right].flatMap((audio) => [audio.indexOf(peak), audio.indexOf(-peak)]);
      this.#peakAt = this.#length + Math.min(...places.filter((place) => place >= 0));
    }
    if (peak >= this.#fullScale || this.#run[0] || this.#run[1]) {
      for (let i = 0; i < left.length; i++) {
        this.#follow(0, this.#length + i, left[i] as number);
        this.#follow(1, this.#length + i, right[i] as number);
      }
    } else if (left.length > 0) {
      this.#first[0] ??= 0;
      this.#first[1] ??= 0;
    }
    this.#length += left.length;
  }

  #follow(channel: 0 | 1, at: number, value: number): void {
    const run = this.#run[channel] as number;
    if (Math.abs(value) >= this.#fullScale) this.#run[channel] = run + 1;
    else if (this.#first[channel] === null) {
      // Whether it began before is known when the chunks are joined.
      this.#first[channel] = run;
      this.#run[channel] = 0;
    } else if (run > 0) this.#close(channel, at);
  }

  /** @param end the first sample behind the run */
  #close(channel: 0 | 1, end: number): void {
    const length = this.#run[channel] as number;
    this.#run[channel] = 0;
    if (length < CLIPPED_RUN) return;
    this.#clippedRuns++;
    if (this.#clipped.length < MOST_PLACES)
      this.#clipped.push({ at: end - length, length, channel: CHANNEL_NAMES[channel] });
  }

  /** To be asked for once, at the end: a run that reaches the last sample ends there. */
  result(): SignalHealth {
    this.#close(0, this.#length);
    this.#close(1, this.#length);
    const power = Math.sqrt(this.#powerLeft * this.#powerRight);
    return {
      samplePeak: this.#peak,
      samplePeakAt: this.#peakAt,
      clippedRuns: this.#clippedRuns,
      clipped: this.#clipped,
      dcLeft: this.#sumLeft / Math.max(1, this.#length),
      dcRight: this.#sumRight / Math.max(1, this.#length),
      correlation: power > 0 ? Math.max(-1, Math.min(1, this.#cross / power)) : null,
    };
  }
}

/** Sums over a block that `statisticsReference` lists. */
export const SUMS = 6;

/**
 * The reference in plain TypeScript: sums of left, of right, of their squares, of their products, and the highest magnitude. Each sum is that
 * over the even samples and that over the odd ones, as the kernel takes them.
 */
export function statisticsReference({ left, right }: Block): Float64Array {
  const sums = new Float64Array(SUMS);
  for (const odd of [0, 1]) {
    let sumLeft = 0;
    let sumRight = 0;
    let powerLeft = 0;
    let powerRight = 0;
    let cross = 0;
    let peak = 0;
    for (let i = odd; i < left.length; i += 2) {
      const l = left[i] as number;
      const r = right[i] as number;
      sumLeft += l;
      sumRight += r;
      powerLeft += l * l;
      powerRight += r * r;
      cross += l * r;
      peak = Math.max(peak, Math.abs(l), Math.abs(r));
    }
    [sumLeft, sumRight, powerLeft, powerRight, cross].forEach(
      (sum, n) => (sums[n] = (sums[n] as number) + sum),
    );
    sums[SUMS - 1] = Math.max(sums[SUMS - 1] as number, peak);
  }
  return sums;
}

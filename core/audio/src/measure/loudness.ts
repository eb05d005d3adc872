import { kernels, type Kernels, type Placed } from '../kernels/kernels.js';
import type { Block } from '../pcm/block.js';
import type { JoinedMeter } from './joined-meter.js';
import { KWeightedPower } from './k-weighting.js';

/** Loudness of a programme; a figure that a silent or too short one does not have is null. */
export interface Loudness {
  /** Gated, LUFS. */
  readonly integratedLufs: number | null;
  /** EBU Tech 3342, LU. */
  readonly loudnessRangeLu: number | null;
  /** Highest of the 400 ms blocks, LUFS. */
  readonly maxMomentaryLufs: number | null;
  /** Highest of the 3 s blocks, LUFS. */
  readonly maxShortTermLufs: number | null;
}

const ABSOLUTE_GATE_LUFS = -70;
/** Power is kept for each 10 ms, so that the highest momentary loudness is found wherever it begins (EBU Tech 3341, case 13). */
const STEPS_A_SECOND = 100;
/** Gating blocks follow each other by 100 ms: 400 ms that overlap by 75 % [BS.1770-4]. */
const STEPS_IN_HOP = 10;
const HOPS_IN_MOMENTARY = 4;
const HOPS_IN_SHORT_TERM = 30;

const toLufs = (power: number): number => -0.691 + 10 * Math.log10(power);
const toPower = (lufs: number): number => 10 ** ((lufs + 0.691) / 10);
const mean = (values: readonly number[]): number =>
  values.reduce((sum, value) => sum + value, 0) / values.length;

/** What a loudness meter has found in a stretch: the mean square of both channels together, for each whole 10 ms. */
export type LoudnessState = Float64Array<ArrayBuffer>;

/** Streaming loudness meter [ITU-R BS.1770-4, EBU R 128]. Keeps one number for each 10 ms. */
export class LoudnessMeter implements JoinedMeter<LoudnessState> {
  readonly #weighted: KWeightedPower;
  /** Samples in a step, exact: rates are multiples of 25. */
  readonly #stepLength: number;
  /** Mean square of both channels together, for each whole 10 ms. */
  readonly #powers: number[] = [];
  #sum = 0;
  /** Steps up to the one under way, its first sample, the one behind its last, and the samples there are up to now. */
  #step: number;
  #stepStart: number;
  #stepEnd: number;
  #position: number;

  /** @param start a whole number of seconds, in samples: where what is pushed begins */
  constructor(
    readonly rate: number,
    start = 0,
  ) {
    this.#weighted = new KWeightedPower(rate);
    this.#stepLength = rate / STEPS_A_SECOND;
    this.#step = Math.round(start / rate) * STEPS_A_SECOND;
    this.#position = this.#stepStart = start;
    this.#stepEnd = this.#endOf(this.#step);
  }

  /** Step k ends at ⌊(k+1)·rate/100⌋: rates that 100 does not divide keep in step as well. */
  #endOf(step: number): number {
    return Math.floor((step + 1) * this.#stepLength);
  }

  /** Lets the filters hear what comes right before the start. */
  lead(block: Block): void {
    const { length } = block.left;
    if (kernels) {
      kernels.begin();
      this.#weighted.overPlaced(kernels, kernels.place(block), [length]);
    } else this.#weighted.over(block, 0, length);
  }

  get state(): LoudnessState {
    return Float64Array.from(this.#powers);
  }

  join(next: LoudnessState): void {
    for (const power of next) this.#powers.push(power);
  }

  push(block: Block): void {
    if (kernels) {
      kernels.begin();
      this.pushPlaced(kernels, kernels.place(block));
      return;
    }
    let from = 0;
    this.#take(
      this.#runs(block.left.length).map((end) => {
        const power = this.#weighted.over(block, from, end);
        from = end;
        return power;
      }),
      block.left.length,
    );
  }

  pushPlaced(machine: Kernels, placed: Placed): void {
    if (placed.length === 0) return;
    const ends = this.#runs(placed.length);
    this.#take(this.#weighted.overPlaced(machine, placed, ends), placed.length);
  }

  /** Ends of the runs of so many samples, each within one step: all but the last end with theirs. */
  #runs(length: number): number[] {
    const ends: number[] = [];
    for (let step = this.#step; ; step++) {
      const end = this.#endOf(step) - this.#position;
      ends.push(Math.min(end, length));
      if (end >= length) return ends;
    }
  }

  /** @param powers sums of the squares of both channels’ weighted samples, run by run, over `length` samples */
  #take(powers: Float64Array | readonly number[], length: number): void {
    const end = this.#position + length;
    for (const power of powers) {
      this.#sum += power;
      this.#position = Math.min(end, this.#stepEnd);
      if (this.#position < this.#stepEnd) continue;
      this.#powers.push(this.#sum / (this.#stepEnd - this.#stepStart));
      this.#sum = 0;
      this.#stepStart = this.#stepEnd;
      this.#stepEnd = this.#endOf(++this.#step);
    }
  }

  result(): Loudness {
    const hops = this.powers();
    return {
      integratedLufs: gatedLoudness(windows(hops, HOPS_IN_MOMENTARY)),
      loudnessRangeLu: loudnessRange(windows(hops, HOPS_IN_SHORT_TERM)),
      maxMomentaryLufs: highest(windows(this.#powers, HOPS_IN_MOMENTARY * STEPS_IN_HOP)),
      maxShortTermLufs: highest(windows(this.#powers, HOPS_IN_SHORT_TERM * STEPS_IN_HOP)),
    };
  }

  /** Mean power of each whole 100 ms, from which loudness at any time can be told (`loudnessOverTime`). */
  powers(): Float64Array<ArrayBuffer> {
    const hops = new Float64Array(Math.floor(this.#powers.length / STEPS_IN_HOP));
    return hops.map((_, k) => mean(this.#powers.slice(k * STEPS_IN_HOP, (k + 1) * STEPS_IN_HOP)));
  }
}

/** Integrated loudness of a stretch, LUFS; null where nothing sounds. @param powers mean power of each 100 ms of it */
export const integratedLoudness = (powers: ArrayLike<number>): number | null =>
  gatedLoudness(windows(powers, HOPS_IN_MOMENTARY));

/** Mean power of every window of `count` hops, one hop apart. */
function windows(powers: ArrayLike<number>, count: number): number[] {
  const means: number[] = [];
  let sum = 0;
  for (let end = 1; end <= powers.length; end++) {
    sum += powers[end - 1] as number;
    if (end > count) sum -= powers[end - 1 - count] as number;
    if (end >= count) means.push(Math.max(0, sum) / count);
  }
  return means;
}

/**
 * Loudness in LUFS at the end of each 100 ms; null where nothing sounds. As long as fewer than a whole window has passed, there
 * is no value.
 * @param powers as a loudness meter gives them
 */
export function loudnessOverTime(
  powers: ArrayLike<number>,
  window: 'momentary' | 'short-term',
): (number | null)[] {
  const hops = window === 'momentary' ? HOPS_IN_MOMENTARY : HOPS_IN_SHORT_TERM;
  const lead = Array.from({ length: Math.min(powers.length, hops - 1) }, () => null);
  return [...lead, ...windows(powers, hops).map((power) => (power > 1e-12 ? toLufs(power) : null))];
}

function highest(powers: readonly number[]): number | null {
  const most = powers.reduce((max, power) => Math.max(max, power), 0);
  return most > 0 ? toLufs(most) : null;
}

/** BS.1770-4 annex 1: blocks over −70 LUFS, then those over their mean less 10 LU. */
function gatedLoudness(powers: readonly number[]): number | null {
  const audible = powers.filter((power) => power > toPower(ABSOLUTE_GATE_LUFS));
  if (audible.length === 0) return null;
  const gate = mean(audible) / 10;
  return toLufs(mean(audible.filter((power) => power > gate)));
}

/** EBU Tech 3342: 10th to 95th percentile of the short-term values over −70 LUFS and their mean less 20 LU. */
function loudnessRange(powers: readonly number[]): number | null {
  const audible = powers.filter((power) => power >= toPower(ABSOLUTE_GATE_LUFS));
  if (audible.length === 0) return null;
  const gate = mean(audible) / 100;
  const kept = audible.filter((power) => power >= gate).sort((a, b) => a - b);
  const percentile = (share: number): number => toLufs(kept[Math.round((kept.length - 1) * share)] as number);
  return percentile(0.95) - percentile(0.1);
}

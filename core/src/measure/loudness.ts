import type { Block } from '../pcm/block.js';
import { kWeighting } from './k-weighting.js';

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
const HOPS_IN_MOMENTARY = 4;
const HOPS_IN_SHORT_TERM = 30;

const toLufs = (power: number): number => -0.691 + 10 * Math.log10(power);
const toPower = (lufs: number): number => 10 ** ((lufs + 0.691) / 10);
const mean = (values: readonly number[]): number =>
  values.reduce((sum, value) => sum + value, 0) / values.length;

/** Streaming loudness meter [ITU-R BS.1770-4, EBU R 128]. Keeps one number for each 100 ms. */
export class LoudnessMeter {
  readonly #filters;
  readonly #hop: number;
  /** Mean square of both channels together, for each whole 100 ms. */
  readonly #powers: number[] = [];
  #sum = 0;
  #filled = 0;

  constructor(rate: number) {
    this.#filters = [kWeighting(rate), kWeighting(rate)] as const;
    this.#hop = Math.round(rate / 10);
  }

  push(block: Block): void {
    const left = block.left.slice();
    const right = block.right.slice();
    for (const filter of this.#filters[0]) filter.process(left);
    for (const filter of this.#filters[1]) filter.process(right);
    for (let at = 0; at < left.length;) {
      const end = Math.min(left.length, at + this.#hop - this.#filled);
      let sum = 0;
      for (let i = at; i < end; i++) sum += (left[i] as number) ** 2 + (right[i] as number) ** 2;
      this.#sum += sum;
      this.#filled += end - at;
      at = end;
      if (this.#filled < this.#hop) continue;
      this.#powers.push(this.#sum / this.#hop);
      this.#sum = 0;
      this.#filled = 0;
    }
  }

  result(): Loudness {
    const momentary = this.#windows(HOPS_IN_MOMENTARY);
    const shortTerm = this.#windows(HOPS_IN_SHORT_TERM);
    return {
      integratedLufs: gatedLoudness(momentary),
      loudnessRangeLu: loudnessRange(shortTerm),
      maxMomentaryLufs: highest(momentary),
      maxShortTermLufs: highest(shortTerm),
    };
  }

  /** Mean power of every window of `count` hops, one hop apart. */
  #windows(count: number): number[] {
    const windows: number[] = [];
    for (let end = count; end <= this.#powers.length; end++) {
      let sum = 0;
      for (let i = end - count; i < end; i++) sum += this.#powers[i] as number;
      windows.push(sum / count);
    }
    return windows;
  }
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

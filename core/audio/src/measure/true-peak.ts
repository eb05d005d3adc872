import { boundOf } from '../dsp/point-bound.js';
import { kernels, type Kernels, type Placed } from '../kernels/kernels.js';
import { CHANNELS, type Block } from '../pcm/block.js';
import type { JoinedMeter } from './joined-meter.js';

/** Taps to each side of the interpolated point. */
const HALF = 12;
const TAPS = 2 * HALF;
/** Samples of the past that a point needs. */
const TAIL = TAPS - 1;
/** Samples that share one "can anything here be higher?" question. */
const STRIDE = 64;
/** Taps in the middle that decide most of a point's value; the others can only add their share of the highest sample around. */
const CORE_FROM = HALF - 4;
const CORE_TO = HALF + 4;

/** The points between samples at which a meter looks. */
export interface PeakPoints {
  /** A row of 24 weights for each. */
  readonly table: Float64Array;
  readonly rows: number;
  /** The most that a full-scale signal can reach at any point. */
  readonly reach: number;
  /** The most that the taps outside of the middle eight can add of it. */
  readonly outerReach: number;
  /**
   * A point lies no higher than `slope` times the higher of its two neighbours, and `bending` times the sharpest second difference of the
   * samples that its taps see.
   */
  readonly slope: number;
  readonly bending: number;
}

/** Interpolate to this rate at least: 4× at 44.1 and 48 kHz, 2× at 88.2 and 96 kHz. */
const TARGET_RATE = 176_400;

/** What a true-peak meter has found in a stretch, with its last samples. */
export interface TruePeakState {
  readonly peak: number;
  readonly left: Float64Array;
  readonly right: Float64Array;
}

/**
 * Streaming true-peak meter [ITU-R BS.1770-4 annex 2]: the signal is interpolated four times (at 48 kHz) with a windowed sinc
 * and the highest magnitude kept. A stretch whose samples are too low to reach the peak so far, however they add
 * up, is passed over, which changes no result.
 */
export class TruePeakMeter implements JoinedMeter<TruePeakState> {
  readonly #points: PeakPoints;
  /** The end of what was pushed of each channel, so that every point sees its whole neighbourhood once. */
  readonly #tails = { left: new Float64Array(TAIL), right: new Float64Array(TAIL) };
  #peak = 0;

  constructor(rate: number) {
    this.#points = pointsFor(rate);
  }

  /** Takes what comes right before the start as its past, TAIL samples or more. */
  lead(block: Block): void {
    for (const channel of CHANNELS)
      this.#tails[channel].set(block[channel].subarray(block[channel].length - TAIL));
  }

  get state(): TruePeakState {
    return { peak: this.#peak, left: this.#tails.left, right: this.#tails.right };
  }

  join({ peak, left, right }: TruePeakState): void {
    this.#peak = Math.max(this.#peak, peak);
    this.#tails.left.set(left);
    this.#tails.right.set(right);
  }

  push(block: Block): void {
    if (kernels) {
      kernels.begin();
      this.pushPlaced(kernels, kernels.place(block));
      return;
    }
    for (const channel of CHANNELS) {
      const audio = new Float64Array(TAIL + block[channel].length);
      audio.set(this.#tails[channel]);
      audio.set(block[channel], TAIL);
      this.#peak = scanReference(this.#points, audio, this.#peak);
      this.#tails[channel].set(audio.subarray(audio.length - TAIL));
    }
  }

  pushPlaced(machine: Kernels, placed: Placed): void {
    for (const channel of CHANNELS) {
      const at = placed[channel] - 8 * TAIL;
      const length = TAIL + placed.length;
      machine.doubles(at, TAIL).set(this.#tails[channel]);
      this.#peak = scanPlaced(machine, this.#points, at, length, this.#peak);
      this.#tails[channel].set(machine.doubles(at + 8 * placed.length, TAIL));
    }
  }

  /** Linear true peak of all that was pushed, the decay of the filter after the end included. */
  result(): number {
    this.push({ left: new Float64Array(TAPS), right: new Float64Array(TAPS) });
    return this.#peak;
  }

  /** Linear true peak since the last call, without waiting for the filter to die away; the next call starts anew. */
  take(): number {
    const peak = this.#peak;
    this.#peak = 0;
    return peak;
  }
}

/** The higher of `peak` and the highest magnitude of a signal in the memory of the kernels, its points between samples included. */
export function scanPlaced(
  machine: Kernels,
  { table, rows, reach, outerReach, slope, bending }: PeakPoints,
  at: number,
  length: number,
  peak: number,
): number {
  const weights = machine.table(table);
  return machine.call.truePeak(at, length, weights, rows, reach, outerReach, slope, bending, peak);
}

/** One table for all meters of a factor: the kernels keep it. */
const known = new Map<number, PeakPoints>();

/** The points between two samples that are looked at for a rate. */
export function pointsFor(rate: number): PeakPoints {
  const factor = Math.max(1, Math.ceil(TARGET_RATE / rate));
  const points = known.get(factor) ?? designPoints(factor);
  known.set(factor, points);
  return points;
}

/** The reach is the largest sum of a point's magnitudes. */
function designPoints(factor: number): PeakPoints {
  const rows = factor - 1;
  const table = new Float64Array(rows * TAPS);
  const most = { reach: 1, outerReach: 0, slope: 1, bending: 0 };
  const sumOf = (taps: Float64Array): number => taps.reduce((sum, tap) => sum + Math.abs(tap), 0);
  for (let row = 0; row < rows; row++) {
    const fraction = (row + 1) / factor;
    const weights = interpolator(fraction);
    table.set(weights, row * TAPS);
    const outer = sumOf(weights) - sumOf(weights.subarray(CORE_FROM, CORE_TO));
    const { slope, bending } = boundOf(weights, fraction);
    most.reach = Math.max(most.reach, sumOf(weights));
    most.outerReach = Math.max(most.outerReach, outer);
    most.slope = Math.max(most.slope, slope);
    most.bending = Math.max(most.bending, bending);
  }
  return { table, rows, ...most };
}

/** The reference in plain TypeScript; the kernel finds the same peak. */
export function scanReference(points: PeakPoints, audio: Float64Array, soFar: number): number {
  const { table, reach, outerReach } = points;
  let peak = soFar;
  for (let from = 0; from + TAPS <= audio.length; from += STRIDE) {
    const positions = Math.min(STRIDE, audio.length - TAPS + 1 - from);
    const most = highest(audio, from, from + positions + TAPS - 1);
    if (most * reach <= peak) continue;
    peak = Math.max(peak, highest(audio, from + HALF, from + HALF + positions));
    // A hair more than the bound, for the rounding of sums that are taken in another order.
    const outer = most * outerReach * (1 + 1e-9) + 1e-300;
    peak = interpolatedPeak(audio, from, positions, table, peak, outer);
  }
  return peak;
}

function highest(audio: Float64Array, from: number, to: number): number {
  let most = 0;
  for (let i = from; i < to; i++) {
    const magnitude = Math.abs(audio[i] as number);
    if (magnitude > most) most = magnitude;
  }
  return most;
}

/**
 * The higher of `peak` and the highest magnitude between the samples of a stretch: the hot loop. Eight taps tell whether a
 * point can reach beyond the peak at all; only then is it computed in full.
 * @param outer the most that the other taps can add here
 */
function interpolatedPeak(
  audio: Float64Array,
  from: number,
  positions: number,
  table: Float64Array,
  peak: number,
  outer: number,
): number {
  for (let row = 0; row < table.length; row += TAPS) {
    const core = row + CORE_FROM;
    const t0 = table[core] as number;
    const t1 = table[core + 1] as number;
    const t2 = table[core + 2] as number;
    const t3 = table[core + 3] as number;
    const t4 = table[core + 4] as number;
    const t5 = table[core + 5] as number;
    const t6 = table[core + 6] as number;
    const t7 = table[core + 7] as number;
    for (let i = from; i < from + positions; i++) {
      const at = i + CORE_FROM;
      const near =
        t0 * (audio[at] as number) +
        t1 * (audio[at + 1] as number) +
        (t2 * (audio[at + 2] as number) + t3 * (audio[at + 3] as number)) +
        (t4 * (audio[at + 4] as number) + t5 * (audio[at + 5] as number)) +
        (t6 * (audio[at + 6] as number) + t7 * (audio[at + 7] as number));
      if (near + outer <= peak && near - outer >= -peak) continue;
      let whole = 0;
      for (let t = 0; t < TAPS; t++) whole += (table[row + t] as number) * (audio[i + t] as number);
      peak = Math.max(peak, Math.abs(whole));
    }
  }
  return peak;
}

/** Taps that give the value `fraction` of a sample after tap HALF − 1, Kaiser window, unity at DC. */
function interpolator(fraction: number): Float64Array {
  const row = new Float64Array(TAPS);
  let sum = 0;
  for (let t = 0; t < TAPS; t++) {
    const distance = HALF - 1 + fraction - t;
    const sinc = Math.sin(Math.PI * distance) / (Math.PI * distance);
    const window = Math.cos((Math.PI * distance) / (2 * (HALF + 1))) ** 2;
    row[t] = sinc * window;
    sum += row[t] as number;
  }
  return row.map((tap) => tap / sum);
}

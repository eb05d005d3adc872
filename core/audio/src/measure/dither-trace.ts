import type { Block } from '../pcm/block.js';
import { addTo, beforeNext, type JoinedMeter } from './joined-meter.js';

/** Samples judged at a time: 23 ms at 44.1 kHz. */
const WINDOW = 1024;
/** Only windows as quiet as this can show a noise floor of a few steps: −54 dBFS. */
const QUIET = 2 ** -9;
/** Steps (LSB) between which a floor looks like added dither; rounding alone leaves less (docs/rules.md 12.2). */
const LEAST_STEPS = 0.36;
const MOST_STEPS = 4;
/** Lag-1 correlation of the second difference of white noise is −2/3; noise shaped towards high frequencies lies below. */
const WHITE_OR_SHAPED = -0.58;

/** yes: the floor is a noise of about one step · no: it is bare rounding · unclear: it never gets quiet enough to tell. */
export type DitherTrace = 'yes' | 'no' | 'unclear';

/** Noise floors are counted by quarter octaves of their RMS, from 2⁻³² on. */
const BINS_AN_OCTAVE = 4;
const OCTAVES = 32;
const binOf = (sigma: number): number =>
  Math.max(
    0,
    Math.min(BINS_AN_OCTAVE * OCTAVES - 1, Math.floor((Math.log2(sigma) + OCTAVES) * BINS_AN_OCTAVE)),
  );

/** Windows of a stretch by their noise floor, and the sum of their correlations. */
export interface DitherTraceState {
  readonly count: Float64Array;
  readonly correlation: Float64Array;
}

/**
 * Looks whether the low bits hold dither: in quiet windows, the second difference takes the music away and leaves the noise.
 * Triangular dither leaves 0.5 steps of white noise, more and less white when it is shaped; rounding without dither leaves
 * stretches that hardly move. (So does rectangular dither, whose noise comes and goes with the signal.) Digital silence tells
 * nothing.
 */
export class DitherTraceMeter implements JoinedMeter<DitherTraceState> {
  /** Windows by their noise floor, and the sum of their correlations. */
  readonly #count = new Float64Array(BINS_AN_OCTAVE * OCTAVES);
  readonly #correlation = new Float64Array(BINS_AN_OCTAVE * OCTAVES);
  readonly #window = new Float64Array(WINDOW);
  #filled = 0;
  /** Samples that belong to a window which has begun before the start. */
  #skip: number;

  /** @param start sample at which what is pushed begins */
  constructor(start = 0) {
    this.#skip = beforeNext(start, WINDOW);
  }

  get state(): DitherTraceState {
    return { count: this.#count, correlation: this.#correlation };
  }

  join({ count, correlation }: DitherTraceState): void {
    addTo(this.#count, count);
    addTo(this.#correlation, correlation);
  }

  /** What follows the stretch, for the window that has begun in it. */
  trail({ left, right }: Block): void {
    const rest = this.#filled > 0 ? WINDOW - this.#filled : 0;
    this.push({ left: left.subarray(0, rest), right });
  }

  push({ left }: Block): void {
    const skipped = Math.min(this.#skip, left.length);
    this.#skip -= skipped;
    for (let at = skipped; at < left.length;) {
      const end = Math.min(left.length, at + WINDOW - this.#filled);
      this.#window.set(left.subarray(at, end), this.#filled);
      this.#filled += end - at;
      at = end;
      if (this.#filled < WINDOW) continue;
      this.#filled = 0;
      this.#judge();
    }
  }

  #judge(): void {
    const audio = this.#window;
    // A loud window shows so at once, at a few of its samples.
    for (let i = 0; i < WINDOW; i += 64) if (Math.abs(audio[i] as number) > QUIET) return;
    let power = 0;
    let cross = 0;
    let before = 0;
    for (let i = 2; i < WINDOW; i++) {
      const value = audio[i] as number;
      if (value > QUIET || value < -QUIET) return;
      const bend = value - 2 * (audio[i - 1] as number) + (audio[i - 2] as number);
      power += bend * bend;
      cross += bend * before;
      before = bend;
    }
    if (power === 0) return;
    // White noise of variance v has a second difference of variance 6v.
    const bin = binOf(Math.sqrt(power / (6 * (WINDOW - 2))));
    this.#count[bin] = (this.#count[bin] as number) + 1;
    this.#correlation[bin] = (this.#correlation[bin] as number) + cross / power;
  }

  /** @param bits that the words really use; null for words that are no whole numbers */
  result(bits: number | null): DitherTrace {
    if (bits === null) return 'unclear';
    const step = 2 ** (1 - bits);
    const least = binOf(LEAST_STEPS * step);
    const sum = (values: Float64Array, from: number, to: number): number =>
      values.subarray(from, to).reduce((total, value) => total + value, 0);
    const bare = sum(this.#count, 0, least);
    const most = binOf(MOST_STEPS * step) + 1;
    const noisy = sum(this.#count, least, most);
    if (bare > noisy) return 'no';
    if (noisy === 0) return 'unclear';
    return sum(this.#correlation, least, most) / noisy <= WHITE_OR_SHAPED ? 'yes' : 'unclear';
  }
}

import type { Block } from '../pcm/block.js';
import { uniform, type Seed } from './random.js';

/** Dither kinds of trade.md section 4, as they are written in an album file. */
export const DITHER_KINDS = ['none', 'rectangular', 'triangular', 'shaped'] as const;
export type DitherKind = (typeof DITHER_KINDS)[number];

/** Error-feedback coefficients for 44.1 kHz [Lipshitz, Vanderkooy and Wannamaker 1991]. */
const SHAPING = [2.033, -2.165, 1.959, -1.59, 0.6149] as const;

/**
 * The most by which a shortened sample can differ from what it was, in LSB of the target: half of one by rounding, and what the
 * dither adds; noise shaping lets past errors in as well.
 */
export function mostErrorLsb(kind: DitherKind): number {
  switch (kind) {
    case 'none':
      return 0.5;
    case 'rectangular':
      return 1;
    case 'triangular':
      return 1.5;
    case 'shaped':
      return 1.5 * SHAPING.reduce((sum, h) => sum + Math.abs(h), 1);
    default:
      return kind satisfies never;
  }
}

/**
 * Density of the error that a kind of dither leaves at a frequency, in dB over that of rounding alone (1/12 LSB² over the band):
 * rectangular adds 1/12, triangular 2/12; shaping bends the whole by 1 − Σ h[k]·z⁻ᵏ.
 * @param turn frequency as a share of the sample rate, 0 to 0.5
 */
export function errorDensityDb(kind: DitherKind, turn: number): number {
  const power = { none: 1, rectangular: 2, triangular: 3, shaped: 3 }[kind];
  let re = 1;
  let im = 0;
  if (kind === 'shaped')
    SHAPING.forEach((h, k) => {
      re -= h * Math.cos(2 * Math.PI * turn * (k + 1));
      im += h * Math.sin(2 * Math.PI * turn * (k + 1));
    });
  return 10 * Math.log10(power * (re * re + im * im));
}

/** A half-open range of samples `[start, end)`. */
export interface Range {
  readonly start: number;
  readonly end: number;
}

/**
 * Shortens audio to integer words. Feed it the programme in order, from sample 0.
 *
 * Samples outside the `touched` ranges are exact already and are only rounded, which changes nothing. A CD frame
 * (1/75 s) in which both channels are digital silence throughout stays silent, so that leading, trailing and
 * inner silence of a master survives the dither: `frameLength` is its length in samples, and callers hand in
 * blocks that begin on its grid.
 */
export class Quantiser {
  readonly #scale: number;
  /** Past errors of left and right for the shaped kind, newest first. */
  readonly #errors = [new Float64Array(SHAPING.length), new Float64Array(SHAPING.length)] as const;
  #range = 0;

  constructor(
    readonly bits: number,
    readonly kind: DitherKind,
    readonly seed: Seed,
    readonly touched: readonly Range[],
    readonly frameLength: number,
  ) {
    this.#scale = 2 ** (bits - 1);
  }

  /**
   * Replaces the samples of `block` by exact multiples of the target's LSB, limited to its range.
   * @param start position of the block's first sample, a multiple of `frameLength`
   */
  process(block: Block, start: number): void {
    const length = block.left.length;
    for (let from = 0; from < length; from += this.frameLength) {
      const to = Math.min(length, from + this.frameLength);
      const silent = isSilent(block.left, from, to) && isSilent(block.right, from, to);
      if (silent) {
        this.#forgetErrors();
        continue;
      }
      this.#frame(block, start, from, to);
    }
  }

  #frame(block: Block, start: number, from: number, to: number): void {
    for (let i = from; i < to; i++) {
      const position = start + i;
      const dithered = this.kind !== 'none' && this.#isTouched(position);
      if (!dithered && this.kind === 'shaped') this.#forgetErrors();
      block.left[i] = this.#sample(block.left[i] as number, 2 * position, 0, dithered);
      block.right[i] = this.#sample(block.right[i] as number, 2 * position + 1, 1, dithered);
    }
  }

  #sample(value: number, index: number, channel: 0 | 1, dithered: boolean): number {
    const x = value * this.#scale;
    if (!dithered) return this.#limit(Math.floor(x + 0.5));
    if (this.kind === 'rectangular') return this.#limit(Math.floor(x + uniform(this.seed, 2 * index)));
    const noise = uniform(this.seed, 2 * index) - uniform(this.seed, 2 * index + 1);
    if (this.kind === 'triangular') return this.#limit(Math.floor(x + noise + 0.5));
    const errors = this.#errors[channel];
    let v = x;
    for (let k = 0; k < SHAPING.length; k++) v -= (SHAPING[k] as number) * (errors[k] as number);
    const y = Math.floor(v + noise + 0.5);
    errors.copyWithin(1, 0, SHAPING.length - 1);
    errors[0] = y - v;
    return this.#limit(y);
  }

  #limit(word: number): number {
    const limited = word >= this.#scale ? this.#scale - 1 : word < -this.#scale ? -this.#scale : word;
    return limited / this.#scale;
  }

  /** Ranges are in order and positions only grow, so a pointer that walks along is enough. */
  #isTouched(position: number): boolean {
    let range = this.touched[this.#range];
    while (range && range.end <= position) range = this.touched[++this.#range];
    return range !== undefined && range.start <= position;
  }

  #forgetErrors(): void {
    this.#errors[0].fill(0);
    this.#errors[1].fill(0);
  }
}

function isSilent(audio: Float64Array, from: number, to: number): boolean {
  for (let i = from; i < to; i++) if (audio[i] !== 0) return false;
  return true;
}

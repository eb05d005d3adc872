import type { Block, WordFormat } from '../pcm/block.js';
import { DITHER_KINDS, type DitherKind } from './dither-kinds.js';
import type { Interval } from '../time/interval.js';
import type { Samples } from '../time/ticks.js';
import type { Seed } from './random.js';
import { shortenedWords, SHAPING, type ShortenRun } from './shorten.js';

export { DITHER_KINDS, type DitherKind };

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

/**
 * Shortens audio to integer words. Feed it the programme in order; from which sample on matters to the shaped kind only, which
 * remembers its errors.
 *
 * Samples outside the `touched` ranges are exact already and are only rounded, which changes nothing. A CD frame
 * (1/75 s) in which both channels are digital silence throughout stays silent, so that leading, trailing and
 * inner silence of a master survives the dither: `frameLength` is its length in samples, and callers hand in
 * blocks that begin on its grid.
 */
export class Quantiser {
  /** Past errors of left, then of right, for the shaped kind, newest first. */
  readonly #errors = new Float64Array(2 * SHAPING.length);
  #range = 0;

  /** @param format whole numbers */
  constructor(
    readonly format: WordFormat,
    readonly kind: DitherKind,
    readonly seed: Seed,
    readonly touched: readonly Interval<Samples>[],
    readonly frameLength: number,
  ) {}

  /**
   * The interleaved little-endian words of a block, limited to their range.
   * @param start position of the block's first sample, a multiple of `frameLength`
   * @param into memory that they may lie in
   */
  words(block: Block, start: number, into?: Uint8Array<ArrayBuffer>): Uint8Array<ArrayBuffer> {
    const { kind, seed } = this;
    const runs = this.#runs(block, start);
    return shortenedWords(block, this.format, { kind, seed, start, runs, errors: this.#errors }, into);
  }

  /** What is to be done with which samples, frame by frame; silent frames are left as they are. */
  #runs(block: Block, start: number): ShortenRun[] {
    const runs: ShortenRun[] = [];
    const { length } = block.left;
    let forget = false;
    for (let frame = 0; frame < length; frame += this.frameLength) {
      const end = Math.min(length, frame + this.frameLength);
      if (isSilent(block.left, frame, end) && isSilent(block.right, frame, end)) {
        forget = true;
        continue;
      }
      for (let from = frame; from < end;) {
        const { touched, until } = this.#stretch(start + from);
        const to = Math.min(end, until - start);
        const dithered = touched && this.kind !== 'none';
        const before = runs.at(-1);
        forget ||= !dithered;
        if (before && before.to === from && before.dithered === dithered && !(forget && dithered))
          runs[runs.length - 1] = { ...before, to };
        else runs.push({ from, to, dithered, forget });
        forget = !dithered;
        from = to;
      }
    }
    // Silence at the end of a block is remembered into the next.
    if (forget) runs.push({ from: length, to: length, dithered: false, forget });
    return runs;
  }

  /** Whether a sample is touched, and the first one after it of which the opposite is true. Positions only grow, so a pointer that walks along is enough. */
  #stretch(position: number): { touched: boolean; until: number } {
    let range = this.touched[this.#range];
    while (range && range.end <= position) range = this.touched[++this.#range];
    if (!range) return { touched: false, until: Infinity };
    return range.start <= position
      ? { touched: true, until: range.end }
      : { touched: false, until: range.start };
  }
}

function isSilent(audio: Float64Array, from: number, to: number): boolean {
  for (let i = from; i < to; i++) if (audio[i] !== 0) return false;
  return true;
}

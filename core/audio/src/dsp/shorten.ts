import { kernels } from '../kernels/kernels.js';
import { WORD_BYTES, wordBits, type Block, type WordFormat } from '../pcm/block.js';
import { encodeReference, FORMAT_NUMBER } from '../pcm/words.js';
import type { DitherKind } from './dither-kinds.js';
import { uniform, type Seed } from './random.js';

/** Error-feedback coefficients for 44.1 kHz [Lipshitz, Vanderkooy and Wannamaker 1991]. */
export const SHAPING = [2.033, -2.165, 1.959, -1.59, 0.6149] as const;

/** Samples `[from, to)` of a block that are shortened in one way. */
export interface ShortenRun {
  readonly from: number;
  readonly to: number;
  /** Rounded only where not. */
  readonly dithered: boolean;
  /** Past errors are forgotten before it. */
  readonly forget: boolean;
}

export interface ShortenOrder {
  readonly kind: DitherKind;
  readonly seed: Seed;
  /** Place of the block’s first sample on the disc. */
  readonly start: number;
  readonly runs: readonly ShortenRun[];
  /** The last five errors of left, then of right, newest first; kept from block to block. */
  readonly errors: Float64Array;
}

/**
 * The interleaved little-endian words of a block, dithered where its runs say so, rounded elsewhere.
 * @param into memory that they may lie in
 */
export function shortenedWords(
  block: Block,
  format: WordFormat,
  order: ShortenOrder,
  into?: Uint8Array<ArrayBuffer>,
): Uint8Array<ArrayBuffer> {
  if (!kernels) return shortenedWordsReference(block, format, order);
  const { kind, seed, start, runs, errors } = order;
  kernels.begin();
  const { left, right, length } = kernels.place(block);
  const errorsAt = kernels.take(8 * errors.length);
  kernels.doubles(errorsAt, errors.length).set(errors);
  const step = 2 * WORD_BYTES[format];
  const at = kernels.take(step * length);
  const number = FORMAT_NUMBER[format];
  // What a run lays down beyond its end, the next one lays down again.
  let done = 0;
  const round = (from: number, to: number): void => {
    if (to > from)
      kernels?.call.encode(left + 8 * from, right + 8 * from, to - from, number, at + step * from);
  };
  for (const { from, to, dithered, forget } of runs) {
    if (forget) kernels.doubles(errorsAt, errors.length).fill(0);
    if (!dithered || kind === 'none' || from === to) continue;
    round(done, from);
    const [l, r] = [left + 8 * from, right + 8 * from];
    const { a, b } = seed;
    kernels.call.shorten(
      ...[l, r, to - from, start + from, KIND_NUMBER[kind], a, b, errorsAt, number, at + step * from],
    );
    done = to;
  }
  round(done, length);
  errors.set(kernels.doubles(errorsAt, errors.length));
  return kernels.taken(at, step * length, into);
}

/** The number by which the kernel knows a kind. */
const KIND_NUMBER = {
  rectangular: 1,
  triangular: 2,
  shaped: 3,
} as const satisfies Readonly<Record<Exclude<DitherKind, 'none'>, number>>;

/** The reference in plain TypeScript: the same words as the kernel makes. */
export function shortenedWordsReference(
  { left, right }: Block,
  format: WordFormat,
  order: ShortenOrder,
): Uint8Array<ArrayBuffer> {
  const { runs, errors } = order;
  const scale = 2 ** (wordBits(format) - 1);
  const channels = [left.slice(), right.slice()] as const;
  channels.forEach((audio, channel) => {
    const own = errors.subarray(channel * SHAPING.length, (channel + 1) * SHAPING.length);
    for (const run of runs) {
      if (run.forget) own.fill(0);
      if (!run.dithered || order.kind === 'none') continue;
      for (let i = run.from; i < run.to; i++)
        audio[i] = dithered(audio[i] as number, 2 * (2 * (order.start + i) + channel), own, scale, order);
    }
  });
  return encodeReference({ left: channels[0], right: channels[1] }, format);
}

function dithered(
  value: number,
  index: number,
  errors: Float64Array,
  scale: number,
  { kind, seed }: ShortenOrder,
): number {
  const x = value * scale;
  if (kind === 'rectangular') return limit(Math.floor(x + uniform(seed, index)), scale);
  const noise = uniform(seed, index) - uniform(seed, index + 1);
  if (kind === 'triangular') return limit(Math.floor(x + noise + 0.5), scale);
  let v = x;
  for (let k = 0; k < SHAPING.length; k++) v -= (SHAPING[k] as number) * (errors[k] as number);
  const word = Math.floor(v + noise + 0.5);
  errors.copyWithin(1, 0, SHAPING.length - 1);
  errors[0] = word - v;
  return limit(word, scale);
}

const limit = (word: number, scale: number): number =>
  (word >= scale ? scale - 1 : word < -scale ? -scale : word) / scale;

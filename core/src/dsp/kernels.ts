import type { Block } from '../pcm/block.js';
import type { DitherKind } from './dither-kinds.js';
import { KERNELS_WASM } from './kernels-wasm.js';
import type { Seed } from './random.js';

const PAGE = 65_536;
/** The first bytes of the memory stay free, so that no offset is 0. */
const FIRST = 1024;

/** What core/kernels exports. Offsets are in bytes. */
interface Exports {
  readonly memory: { readonly buffer: ArrayBuffer; grow(pages: number): number };
  readonly resample: (...args: number[]) => void;
  readonly truePeak: (...args: number[]) => number;
  readonly shorten: (...args: number[]) => void;
}

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
  /** Steps of full scale: 2^(bits−1). */
  readonly scale: number;
  readonly seed: Seed;
  /** Place of the block’s first sample on the disc. */
  readonly start: number;
  readonly runs: readonly ShortenRun[];
  /** The last five errors of left, then of right, newest first; kept from block to block. */
  readonly errors: Float64Array;
}

/** The number by which the kernel knows a kind. */
const KIND_NUMBER: Readonly<Record<DitherKind, number>> = {
  none: 0,
  rectangular: 1,
  triangular: 2,
  shaped: 3,
};

/** The points between samples at which a true-peak meter looks. */
export interface PeakPoints {
  /** A row of 24 weights for each. */
  readonly table: Float64Array;
  readonly rows: number;
  /** The most that a full-scale signal can reach at any point. */
  readonly reach: number;
  /** The most that the taps outside of the middle eight can add of it. */
  readonly outerReach: number;
}

/** Rows of weights for each phase of a polyphase filter; `taps` is a multiple of 8. */
export interface Rows {
  readonly up: number;
  readonly down: number;
  readonly taps: number;
  readonly table: Float64Array;
}

/** One output sample after the other: where the first one lies between the input samples. */
export interface Walk {
  /** Row of the first output sample. */
  readonly phase: number;
  /** Input sample under its first tap; from there on the input reaches at least as far as the last output's taps. */
  readonly at: number;
  readonly count: number;
}

/** The hot loops in WebAssembly with SIMD: several times as fast as TypeScript, and the same bits. */
class Kernels {
  readonly #exports: Exports;
  /** Tables that lie in the memory already. */
  readonly #tables = new Map<Float64Array, number>();
  #used = FIRST;

  constructor(exports: Exports) {
    this.#exports = exports;
  }

  resample({ up, down, taps, table }: Rows, { phase, at, count }: Walk, input: Block): Block {
    const rows = this.#tableAt(table);
    const length = input.left.length;
    // Behind the tables, given up again afterwards: both inputs, then both outputs.
    const inLeft = this.#used;
    const inRight = inLeft + 8 * length;
    const outLeft = inRight + 8 * length;
    const outRight = outLeft + 8 * count;
    this.#demand(outRight + 8 * count);
    this.#view(inLeft, length).set(input.left);
    this.#view(inRight, length).set(input.right);
    this.#exports.resample(rows, taps, up, down, phase, at, count, inLeft, inRight, outLeft, outRight);
    return { left: this.#view(outLeft, count).slice(), right: this.#view(outRight, count).slice() };
  }

  /** The higher of `peak` and the highest magnitude of a signal, its points between the samples included. */
  truePeak({ table, rows, reach, outerReach }: PeakPoints, audio: Float64Array, peak: number): number {
    const weights = this.#tableAt(table);
    // The last pair of positions may read one sample beyond the end.
    this.#demand(this.#used + 8 * (audio.length + 1));
    this.#view(this.#used, audio.length).set(audio);
    return this.#exports.truePeak(this.#used, audio.length, weights, rows, reach, outerReach, peak);
  }

  /** Shortens a block in place. */
  shorten({ left, right }: Block, order: ShortenOrder): void {
    const { kind, scale, seed, start, runs, errors } = order;
    const errorsAt = this.#used;
    const audioAt = errorsAt + 8 * errors.length;
    this.#demand(audioAt + 16 * left.length);
    const kept = this.#view(errorsAt, errors.length);
    kept.set(errors);
    const channels = [left, right];
    channels.forEach((audio, channel) => {
      const at = audioAt + 8 * channel * left.length;
      const view = this.#view(at, audio.length);
      view.set(audio);
      const own = errorsAt + 4 * channel * errors.length;
      for (const { from, to, dithered, forget } of runs) {
        if (forget) kept.fill(0, (channel * errors.length) / 2, ((channel + 1) * errors.length) / 2);
        const kindNumber = dithered ? KIND_NUMBER[kind] : 0;
        this.#exports.shorten(
          at + 8 * from,
          to - from,
          start + from,
          channel,
          kindNumber,
          scale,
          seed.a,
          seed.b,
          own,
        );
      }
      audio.set(view);
    });
    errors.set(kept);
  }

  #tableAt(table: Float64Array): number {
    const known = this.#tables.get(table);
    if (known !== undefined) return known;
    const at = this.#used;
    this.#used += 8 * table.length;
    this.#demand(this.#used);
    this.#view(at, table.length).set(table);
    this.#tables.set(table, at);
    return at;
  }

  #view(at: number, length: number): Float64Array {
    return new Float64Array(this.#exports.memory.buffer, at, length);
  }

  #demand(bytes: number): void {
    const { memory } = this.#exports;
    const missing = bytes - memory.buffer.byteLength;
    if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
  }
}

/**
 * What every browser, worker and Node.js has, but TypeScript declares only together with the DOM or with Node’s types, both of which the
 * core must do without.
 */
interface Globals {
  readonly atob: (base64: string) => string;
  readonly WebAssembly: {
    readonly Module: new (bytes: Uint8Array) => object;
    readonly Instance: new (module: object) => { readonly exports: Exports };
  };
}

/** null where the machine has no SIMD in WebAssembly: plain TypeScript does the work there. */
export const kernels = load();

function load(): Kernels | null {
  try {
    const { atob, WebAssembly } = globalThis as unknown as Globals;
    const bytes = Uint8Array.from(atob(KERNELS_WASM), (char) => char.charCodeAt(0));
    return new Kernels(new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports);
  } catch {
    return null;
  }
}

/** Taps whose products are summed apart, as SIMD does it. */
const LANES = 8;

/** The reference in plain TypeScript: the same sums in the same order as `Kernels.resample`. */
export function resampleReference({ up, down, taps, table }: Rows, walk: Walk, input: Block): Block {
  const left = new Float64Array(walk.count);
  const right = new Float64Array(walk.count);
  let { phase, at } = walk;
  for (let i = 0; i < walk.count; i++) {
    left[i] = rowSum(table, phase * taps, taps, input.left, at);
    right[i] = rowSum(table, phase * taps, taps, input.right, at);
    phase += down;
    at += Math.floor(phase / up);
    phase %= up;
  }
  return { left, right };
}

function rowSum(table: Float64Array, row: number, taps: number, input: Float64Array, at: number): number {
  const sums = new Float64Array(LANES);
  for (let t = 0; t < taps; t++)
    sums[t % LANES] = (sums[t % LANES] as number) + (table[row + t] as number) * (input[at + t] as number);
  const [s0, s1, s2, s3, s4, s5, s6, s7] = sums as unknown as number[];
  const even = (s0 as number) + (s2 as number) + ((s4 as number) + (s6 as number));
  const odd = (s1 as number) + (s3 as number) + ((s5 as number) + (s7 as number));
  return even + odd;
}

/** Polyphase resampling: in WebAssembly where there is, else in TypeScript. */
export const resampleRows = (rows: Rows, walk: Walk, input: Block): Block =>
  kernels ? kernels.resample(rows, walk, input) : resampleReference(rows, walk, input);

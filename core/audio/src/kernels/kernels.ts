import { KERNELS_WASM } from './wasm.js';

const PAGE = 65_536;
/** The first bytes of the memory stay free, so that no offset is 0. */
const FIRST = 1024;
/** Everything begins at a multiple of it, a power of two: a vector that crosses no line of the cache is read faster. */
const ALIGNED = 64;
/** Bytes after each stretch that a kernel which works on several samples at once may read or write beyond its end. */
const BEYOND = 128;

/** What core/kernels exports; its sources say what each argument means. Offsets are in bytes. */
interface Exports {
  readonly memory: { readonly buffer: ArrayBuffer; grow(pages: number): number };
  readonly truePeak: Kernel<number>;
  readonly shorten: Kernel;
  readonly decode: Kernel;
  readonly encode: Kernel;
  readonly compare: Kernel;
  readonly weigh: Kernel;
  readonly statistics: Kernel;
  readonly multiply: Kernel;
  readonly fftFirst: Kernel;
  readonly fftStep: Kernel;
  readonly carryBins: Kernel;
  readonly alike: Kernel<number>;
  readonly powers: Kernel;
  readonly sumRuns: Kernel;
  readonly sections: Kernel;
  readonly compress: Kernel;
  readonly exponents: Kernel;
  readonly needs: Kernel;
  readonly smooth: Kernel<number>;
  readonly takeAway: Kernel;
}

type Kernel<Result = void> = (...args: number[]) => Result;

/** Numbers that never change. */
type Table = Float64Array | Float32Array | Uint32Array;

/** Offsets of a stretch of stereo audio in the memory. */
export interface Placed {
  readonly left: number;
  readonly right: number;
  /** Samples of one channel. */
  readonly length: number;
}

/** Planar audio: see Block in pcm, which lies above. */
interface Stereo {
  readonly left: Float64Array;
  readonly right: Float64Array;
}

/** Samples before each channel of a placed stretch that belong to its meter: the history of a true-peak meter. */
const ROOM_BEFORE = 24;

/**
 * The hot loops in WebAssembly with SIMD, and the memory they work on: several times as fast as TypeScript, and the same bits. Work is
 * done in one go: `begin`, take room, call; nothing but tables outlives the next `begin`.
 */
export class Kernels {
  /** Tables that lie in the memory already. */
  readonly #tables = new Map<Table, number>();
  /** End of what stays. */
  #kept = FIRST;
  /** End of what is in use. */
  #top = FIRST;

  constructor(readonly call: Exports) {}

  /** Gives up everything but the tables. */
  begin(): void {
    this.#top = this.#kept;
  }

  /** Offset of so many free bytes. Views that were made before may be dead after it. */
  take(bytes: number): number {
    const at = this.#top;
    // In whole numbers throughout, which engines compile once and for all.
    this.#top = (at + bytes + BEYOND + ALIGNED - 1) & -ALIGNED;
    const { memory } = this.call;
    const missing = this.#top - memory.buffer.byteLength;
    if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
    return at;
  }

  /** Room for a stretch of stereo audio. */
  room(length: number): Placed {
    const channel = (): number => this.take(8 * (ROOM_BEFORE + length)) + 8 * ROOM_BEFORE;
    return { left: channel(), right: channel(), length };
  }

  /** Copies stretches of audio into the memory, one after the other. */
  place(...parts: readonly Stereo[]): Placed {
    const placed = this.room(parts.reduce((length, { left }) => length + left.length, 0));
    let at = 0;
    for (const { left, right } of parts) {
      this.doubles(placed.left + at, left.length).set(left);
      this.doubles(placed.right + at, right.length).set(right);
      at += 8 * left.length;
    }
    return placed;
  }

  /** A placed stretch as it lies there; dead once the memory grows. */
  view({ left, right, length }: Placed): Stereo {
    return { left: this.doubles(left, length), right: this.doubles(right, length) };
  }

  /** A copy of a placed stretch. @param into where it goes, if there is memory for it */
  copy({ left, right, length }: Placed, into?: Stereo): Stereo {
    if (!into)
      return { left: this.doubles(left, length).slice(), right: this.doubles(right, length).slice() };
    into.left.set(this.doubles(left, length));
    into.right.set(this.doubles(right, length));
    return into;
  }

  /** A copy of bytes in the memory. @param into where it goes, if there is memory for it */
  taken(at: number, length: number, into = new Uint8Array(length)): Uint8Array<ArrayBuffer> {
    into.set(this.bytes(at, length));
    return into;
  }

  /** Offset of a table that never changes; it stays in the memory. */
  table(table: Table): number {
    const known = this.#tables.get(table);
    if (known !== undefined) return known;
    // Whatever is in use lies before it, and is kept with it.
    const at = this.take(table.byteLength);
    this.#kept = this.#top;
    const { buffer, byteOffset, byteLength } = table;
    this.bytes(at, byteLength).set(new Uint8Array(buffer, byteOffset, byteLength));
    this.#tables.set(table, at);
    return at;
  }

  doubles(at: number, length: number): Float64Array {
    return new Float64Array(this.call.memory.buffer, at, length);
  }

  integers(at: number, length: number): Int32Array {
    return new Int32Array(this.call.memory.buffer, at, length);
  }

  bytes(at: number, length: number): Uint8Array {
    return new Uint8Array(this.call.memory.buffer, at, length);
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

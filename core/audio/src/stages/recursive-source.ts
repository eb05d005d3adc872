import { CHANNELS, part, silence, type Block, type Memory, type PcmSource } from '../pcm/block.js';

/** Something with memory that works through audio sample by sample. */
export interface Recursion {
  /** Works on the samples from `at` on, in place. What comes out of each depends on what was pushed since it was made, not on how that was cut. */
  run(block: Block, at: number): void;
  /** Takes what is too small to be of any account for nothing: numbers near zero are slow to work with. Is called at fixed places of the source. */
  tidy(): void;
}

/** What a recursion needs to give the same result from any starting point. */
export interface RecursionKind {
  /** Samples from rest after which nothing is left of what came before (below 2⁻⁴⁰ of it). */
  readonly settle: number;
  /** One at rest. */
  begin(): Recursion;
}

/** The shortest stretch of the grid, in seconds: a jump works through one of them and `settle` at most. */
const LEAST_STRETCH_SECONDS = 2;
/**
 * Whether playback waits for the first sound, as during a drag: a recursion then begins from rest shortly before the place where reading
 * begins, at which as good as nothing is left of what came before it (below 2⁻¹⁸). What is rendered, measured or played on never asks for it.
 */
export type Soon = boolean;
const SOON_OF_SETTLE = 0.45;

/** Of a stretch so much at most is spent on settling. */
const STRETCH_OF_SETTLE = 8;
/** Samples processed at a time on the way to the read position. */
const STEP = 8192;

/**
 * A source through a recursion. The recursion begins from rest `settle` samples before each stretch of a grid that is fixed to the source,
 * so that each sample depends on the source alone: any block size, any place to start, the same bits (docs/rules.md 10).
 */
export class RecursiveSource implements PcmSource {
  readonly format = 'float64' as const;
  readonly #stretch: number;
  /** A recursion settled at some position; a reader that continues from there takes it. */
  #waiting: Begun | undefined;
  /** The one of the next stretch, which settles while the end of this one is read: a consecutive reader never goes back for it. */
  #next: Begun | undefined;

  constructor(
    readonly source: PcmSource,
    readonly kind: RecursionKind,
    readonly soon: Soon = false,
  ) {
    this.#stretch = Math.max(Math.ceil(LEAST_STRETCH_SECONDS * source.rate), STRETCH_OF_SETTLE * kind.settle);
  }

  get rate(): number {
    return this.source.rate;
  }
  get length(): number {
    return this.source.length;
  }
  get memory(): Memory {
    const before = this.source.memory;
    return {
      stretch: Math.max(this.#stretch, before?.stretch ?? 0),
      since: (position) => {
        const first = Math.floor(position / this.#stretch) * this.#stretch - this.kind.settle;
        return before?.since(first) ?? first;
      },
    };
  }

  async read(start: number, count: number, into?: Block): Promise<Block> {
    // Beyond its ends a source is silent, whatever rings there.
    const end = Math.min(this.length, start + count);
    let all: Block | undefined;
    for (let at = Math.max(0, start); at < end;) {
      const next = Math.min(end, (Math.floor(at / this.#stretch) + 1) * this.#stretch);
      const recursion = await this.#at(at);
      const isAll = next - at === count;
      const block = await this.source.read(at, next - at, isAll ? into : undefined);
      this.#settleNext(block, at);
      work(recursion, block, at);
      this.#waiting = { at: next, recursion };
      if (isAll) return block;
      all ??= silence(count);
      for (const channel of CHANNELS) all[channel].set(block[channel], at - start);
      at = next;
    }
    return all ?? silence(count);
  }

  /** Lets the recursion of the next stretch hear what it begins with, as far as a block holds it. */
  #settleNext(block: Block, at: number): void {
    const boundary = (Math.floor(at / this.#stretch) + 1) * this.#stretch;
    const first = boundary - this.kind.settle;
    const end = at + block.left.length;
    if (end <= first || boundary >= this.length) return;
    const from = Math.max(at, first);
    const begun = from === first ? { at: first, recursion: this.kind.begin() } : this.#next;
    // Who has come into the midst of it goes back when it is needed.
    if (begun?.at !== from) return;
    const [left, right] = [block.left.slice(from - at), block.right.slice(from - at)];
    work(begun.recursion, { left, right }, from);
    this.#next = { at: end, recursion: begun.recursion };
  }

  /** A recursion that has worked through everything that `at` depends on. */
  async #at(at: number): Promise<Recursion> {
    const first = Math.floor(at / this.#stretch) * this.#stretch;
    const waiting = this.#waiting;
    // Two that read at the same time must not share one.
    this.#waiting = undefined;
    const goesOn = waiting && waiting.at > first && waiting.at <= at;
    const begun = goesOn ? waiting : this.#next?.at === first ? this.#next : undefined;
    if (begun === this.#next) this.#next = undefined;
    const recursion = begun?.recursion ?? this.kind.begin();
    const soonest = at - Math.ceil(SOON_OF_SETTLE * this.kind.settle);
    let from = begun?.at ?? Math.max(first - this.kind.settle, this.soon ? soonest : -Infinity);
    const room = silence(from < at ? STEP : 0);
    while (from < at) {
      const step = Math.min(STEP, at - from);
      work(recursion, await this.source.read(from, step, part(room, 0, step)), from);
      from += step;
    }
    return recursion;
  }
}

/** A recursion that has come to a place. */
interface Begun {
  readonly at: number;
  readonly recursion: Recursion;
}

/** Samples between two places at which a recursion is tidied. */
const TIDIED_EVERY = 4096;

/** Lets a recursion work on a block, and tidies it wherever the block comes to a place for that. */
function work(recursion: Recursion, { left, right }: Block, at: number): void {
  for (let done = 0; done < left.length;) {
    const here = at + done;
    const next = (Math.floor(here / TIDIED_EVERY) + 1) * TIDIED_EVERY;
    const end = Math.min(left.length, done + next - here);
    recursion.run({ left: left.subarray(done, end), right: right.subarray(done, end) }, here);
    if (at + end === next) recursion.tidy();
    done = end;
  }
}

/** Samples in which something that decays by `factor` with each sample falls to 2⁻⁴⁰. */
export const settleOf = (factor: number): number =>
  factor <= 0 ? 1 : Math.ceil((-40 * Math.LN2) / Math.log(Math.min(factor, 1 - 1e-9)));

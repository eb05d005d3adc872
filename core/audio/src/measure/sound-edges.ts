import type { Block } from '../pcm/block.js';
import type { JoinedMeter } from './joined-meter.js';

/** Levels at which the head and the tail are measured, in dBFS (docs/rules.md 12.1). */
export const EDGE_LEVELS_DB = [-60, -72, -90] as const;
export type EdgeLevel = (typeof EDGE_LEVELS_DB)[number];

/** Where the sound stands over a level. */
export interface SoundEdge {
  readonly levelDb: EdgeLevel;
  /** First sample over it, and the one behind the last; both null where no sample is. */
  readonly start: number | null;
  readonly end: number | null;
}

export interface SoundEdges {
  readonly edges: readonly SoundEdge[];
  /** Samples of digital silence before the first other value, and behind the last. */
  readonly silentHead: number;
  readonly silentTail: number;
}

/** First and last sample of a stretch over each level, from the start of the source on; and where the stretch ends. */
export interface SoundEdgesState {
  readonly starts: readonly (number | null)[];
  readonly ends: readonly (number | null)[];
  readonly end: number;
}

/** Streaming: first and last sample over each level. */
export class SoundEdgesMeter implements JoinedMeter<SoundEdgesState> {
  readonly #levels = [0, ...EDGE_LEVELS_DB.map((db) => 10 ** (db / 20))];
  readonly #starts = this.#levels.map((): number | null => null);
  readonly #ends = this.#levels.map((): number | null => null);
  #length: number;

  /** @param start sample at which what is pushed begins */
  constructor(start = 0) {
    this.#length = start;
  }

  get state(): SoundEdgesState {
    return { starts: this.#starts, ends: this.#ends, end: this.#length };
  }

  join({ starts, ends, end }: SoundEdgesState): void {
    starts.forEach((start, k) => (this.#starts[k] ??= start));
    ends.forEach((last, k) => (this.#ends[k] = last ?? this.#ends[k] ?? null));
    this.#length = end;
  }

  push({ left, right }: Block): void {
    const over = (level: number) => (value: number, i: number) =>
      Math.abs(value) > level || Math.abs(right[i] as number) > level;
    this.#levels.forEach((level, k) => {
      // From the end: in all but the quietest music the first look finds one.
      const last = left.findLastIndex(over(level));
      if (last < 0) return;
      this.#ends[k] = this.#length + last + 1;
      this.#starts[k] ??= this.#length + left.findIndex(over(level));
    });
    this.#length += left.length;
  }

  result(): SoundEdges {
    return {
      edges: EDGE_LEVELS_DB.map((levelDb, i) => ({
        levelDb,
        start: this.#starts[i + 1] ?? null,
        end: this.#ends[i + 1] ?? null,
      })),
      silentHead: this.#starts[0] ?? this.#length,
      silentTail: this.#length - (this.#ends[0] ?? 0),
    };
  }
}

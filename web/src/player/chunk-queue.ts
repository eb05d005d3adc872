import { RAMP } from './ramp.js';
import type { AudioChunk, Gains } from './protocol.js';

type Channels = Pick<AudioChunk, 'left' | 'right'>;

/** Chunks that wait to be played, one after the other in the time of their run. */
export class ChunkQueue {
  #chunks: AudioChunk[] = [];
  /** Samples of the first one that were played. */
  #offset = 0;
  #played = 0;

  /** Samples that were played since it was cleared. */
  get played(): number {
    return this.#played;
  }

  /** Sample of the programme that is played next; null where nothing waits. */
  get position(): number | null {
    const [first] = this.#chunks;
    return first ? first.position + this.#offset : null;
  }

  clear(): void {
    this.#chunks = [];
    this.#offset = 0;
    this.#played = 0;
  }

  /**
   * Puts a chunk at its time. One that begins before the end of what waits takes the place of the rest: the sound goes over to it from there,
   * or, where it comes late, from what is played next; what of it is over by then is left out.
   */
  put(chunk: AudioChunk): void {
    const last = this.#chunks.at(-1);
    const end = last ? last.time + last.left.length : this.#played;
    if (chunk.time >= end) {
      this.#chunks.push(chunk);
      return;
    }
    const from = Math.max(this.#played, chunk.time);
    if (from >= chunk.time + chunk.left.length) return;
    const before = this.#cut(from, from + RAMP);
    const late = cutFrom(chunk, from - chunk.time);
    for (const [old, now] of pairs(before, late)) goOver(old, now);
    this.#chunks = [...this.#until(from), late];
  }

  /** What is played next: part of a chunk, no more than asked for. */
  next(most: number): { chunk: AudioChunk; offset: number; count: number } | null {
    const [chunk] = this.#chunks;
    if (!chunk) return null;
    const offset = this.#offset;
    const count = Math.min(most, chunk.left.length - offset);
    this.#offset += count;
    this.#played += count;
    if (this.#offset >= chunk.left.length) {
      this.#chunks.shift();
      this.#offset = 0;
    }
    return { chunk, offset, count };
  }

  /** What waits before a time. */
  #until(time: number): AudioChunk[] {
    return this.#chunks.flatMap((chunk) => {
      const count = Math.min(chunk.left.length, time - chunk.time);
      if (count <= 0) return [];
      const part = ({ left, right }: Channels): Channels => ({
        left: left.subarray(0, count),
        right: right.subarray(0, count),
      });
      return [{ ...chunk, ...part(chunk), other: chunk.other && part(chunk.other), last: false }];
    });
  }

  /** Copies of what waits in a stretch of time, as far as it is there. */
  #cut(from: number, to: number): { own: Channels; other: Channels | null } {
    const taken = (of: (chunk: AudioChunk) => Channels | null): Channels => {
      const channel = (name: 'left' | 'right'): Float32Array =>
        Float32Array.from(
          this.#chunks.flatMap((chunk) => {
            const audio = of(chunk)?.[name];
            return audio
              ? [...audio.slice(Math.max(0, from - chunk.time), Math.max(0, to - chunk.time))]
              : [];
          }),
        );
      return { left: channel('left'), right: channel('right') };
    };
    return { own: taken((chunk) => chunk), other: taken(({ other }) => other) };
  }
}

function cutFrom(chunk: AudioChunk, count: number): AudioChunk {
  if (count === 0) return chunk;
  const rest = ({ left, right }: Channels): Channels => ({
    left: left.subarray(count),
    right: right.subarray(count),
  });
  return {
    ...chunk,
    ...{ time: chunk.time + count, position: chunk.position + count },
    ...rest(chunk),
    other: chunk.other && rest(chunk.other),
  };
}

function* pairs(
  before: { readonly own: Channels; readonly other: Channels | null },
  now: AudioChunk,
): Generator<readonly [Float32Array, Float32Array]> {
  for (const name of ['left', 'right'] as const) {
    yield [before.own[name], now[name]];
    if (before.other && now.other) yield [before.other[name], now.other[name]];
  }
}

/** The first samples go over from what would have been heard to what is heard now. */
function goOver(old: Float32Array, now: Float32Array): void {
  const count = Math.min(old.length, now.length);
  for (let i = 0; i < count; i++) {
    const share = (i + 0.5) / count;
    now[i] = share * (now[i] ?? 0) + (1 - share) * (old[i] ?? 0);
  }
}

/** Which of both programmes is heard, each turned down so that neither is louder; a change takes 8 ms, so that nothing clicks. */
export class Sides {
  #target = { own: 1, other: 0 };
  #now = { own: 1, other: 0 };

  hear(other: boolean, gains: Gains): void {
    this.#target = { own: other ? 0 : gains.own, other: other ? gains.other : 0 };
  }

  /** Is where it is to go, at once: nothing sounds. */
  arrive(): void {
    this.#now = { ...this.#target };
  }

  /** Mixes so many samples of a chunk into an output. */
  mix(
    { left, right, other }: AudioChunk,
    offset: number,
    count: number,
    toLeft: Float32Array,
    toRight: Float32Array,
    at: number,
  ): void {
    const { own: ownTarget, other: otherTarget } = this.#target;
    let { own, other: instead } = this.#now;
    const step = 1 / RAMP;
    for (let i = 0; i < count; i++) {
      own += Math.max(-step, Math.min(step, ownTarget - own));
      instead += Math.max(-step, Math.min(step, otherTarget - instead));
      const n = offset + i;
      const [l, r] = [left[n] ?? 0, right[n] ?? 0];
      // Where there is nothing else, it is heard instead.
      toLeft[at + i] = own * l + instead * (other ? (other.left[n] ?? 0) : l);
      toRight[at + i] = own * r + instead * (other ? (other.right[n] ?? 0) : r);
    }
    this.#now = { own, other: instead };
  }
}

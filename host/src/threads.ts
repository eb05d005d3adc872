import { availableParallelism } from 'node:os';
import { serialize } from 'node:v8';
import { Piscina } from 'piscina';
import {
  AudioRefused,
  PcmFileSource,
  type Block,
  type MeasuredState,
  type Measurer,
  type ProgrammeOrder,
  type ShortenedStretch,
  type SourcesByKey,
  type Stretch,
  type Stretches,
  type WordsOrder,
} from '@oiseau/core';
import { FileByteSource } from './file-source.js';
import type {
  MeasureTask,
  RenderWork,
  SharedMaster,
  StretchFailure,
  StretchResult,
  StretchTask,
} from './render-thread.js';
import { SummedSource } from './summed-source.js';

/** Beyond so many threads the one that joins what they make is what all wait for. */
const MOST_THREADS = 16;
/** Stretches that wait, made or to be made, so that no thread is ever idle while the one that joins is busy. */
const IN_HAND = 2;
const IDLE_MS = 10_000;

let renders = 0;

/** Threads that make stretches of renders, as many as this machine has cores; they come when they are needed, and go when nobody needs them. */
export class Threads {
  readonly #pool: Piscina;
  /** One thread for stretches that are made in turn; it comes when there is one. */
  readonly #lane: Piscina;
  #turn: Promise<unknown> = Promise.resolve();

  /**
   * @param file the built program of such a thread
   * @param most threads at the most, 1 or more
   * @param ready whether all of them begin at once, and stay: for whoever knows that they will be needed
   */
  constructor(
    file: string,
    readonly most = Math.min(MOST_THREADS, availableParallelism()),
    ready = false,
  ) {
    // Of a render few stretches wait at a time: no queue is ever long.
    const settings = { filename: file, idleTimeout: IDLE_MS, maxQueue: Infinity };
    this.#pool = new Piscina({ ...settings, minThreads: ready ? most : 0, maxThreads: most });
    this.#lane = new Piscina({ ...settings, minThreads: 0, maxThreads: 1 });
  }

  /**
   * Who makes stretches of some programmes; null where a master is no file that other threads can read.
   * @param masters stay open until nothing is under way any more
   * @param share of the threads that this render may take, 1 or more
   */
  stretches(
    programmes: Readonly<Record<string, ProgrammeOrder>>,
    masters: SourcesByKey,
    share = this.most,
  ): Stretches | null {
    const shared = sharedMasters(masters);
    if (!shared) return null;
    const render = renders++;
    const work = inSharedMemory({ programmes, masters: shared });
    const run = async <Made>(stretch: Stretch, words: WordsOrder | null): Promise<Made> => {
      const task: StretchTask = { render, work, stretch, words };
      const asked = stretch.inTurn ? this.#inTurn(task) : this.#pool.run(task);
      const answer = (await asked) as StretchResult<Made> | StretchFailure;
      if ('failed' in answer) throw errorOf(answer);
      const { made, read } = answer;
      for (const [key, piece, crc] of read) summedBehind(masters.get(key))?.tell(piece, crc);
      return made;
    };
    return {
      width: this.#width(share),
      block: (stretch) => run<Block>(stretch, null),
      words: (stretch, order) => run<ShortenedStretch>(stretch, order),
    };
  }

  /** One after the other, in the order in which they are asked for: a pool keeps no order of what waits. */
  #inTurn(task: StretchTask): Promise<unknown> {
    const made = this.#turn.then(() => this.#lane.run(task) as Promise<unknown>);
    this.#turn = made.catch(() => undefined);
    return made;
  }

  /** Measures stretches of words. @param share of the threads that are taken for it at the most, 1 or more */
  measurer(share = this.most): Measurer {
    return {
      width: this.#width(share),
      measure: (order) => {
        const task: MeasureTask = { measure: order };
        // The words go over to the thread.
        return this.#pool.run(task, { transferList: [order.words.buffer] }) as Promise<MeasuredState>;
      },
    };
  }

  /** Whoever has all threads keeps them busy while results wait; of a share no more are under way than it has threads. */
  #width(share: number): number {
    return share < this.most ? Math.max(1, share) : this.most + IN_HAND;
  }

  /** Ends all threads. */
  async close(): Promise<void> {
    await Promise.all([this.#pool.destroy(), this.#lane.destroy()]);
  }
}

function errorOf({ failed: { message, refusal, system } }: StretchFailure): Error {
  return refusal ? new AudioRefused(refusal, message) : Object.assign(new Error(message), { code: system });
}

const bytesBehind = (source: unknown): unknown =>
  source instanceof PcmFileSource ? source.bytes : undefined;

function summedBehind(source: unknown): SummedSource | undefined {
  const bytes = bytesBehind(source);
  return bytes instanceof SummedSource ? bytes : undefined;
}

function sharedMasters(masters: SourcesByKey): Record<string, SharedMaster> | null {
  const shared: Record<string, SharedMaster> = {};
  for (const [key, source] of masters) {
    const bytes = bytesBehind(source);
    if (!(source instanceof PcmFileSource)) return null;
    if (!(bytes instanceof FileByteSource || bytes instanceof SummedSource)) return null;
    const { fd, size } = bytes;
    shared[key] = { fd, size, info: source.info, told: bytes instanceof SummedSource };
  }
  return shared;
}

function inSharedMemory(work: RenderWork): SharedArrayBuffer {
  const bytes = serialize(work);
  const shared = new SharedArrayBuffer(bytes.length);
  new Uint8Array(shared).set(bytes);
  return shared;
}

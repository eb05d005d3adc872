import { availableParallelism } from 'node:os';
import { serialize } from 'node:v8';
import { Piscina } from 'piscina';
import {
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
import type { MeasureTask, RenderWork, SharedMaster, StretchResult, StretchTask } from './render-thread.js';
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
    this.#pool = new Piscina({
      filename: file,
      minThreads: ready ? most : 0,
      maxThreads: most,
      idleTimeout: IDLE_MS,
      // A render holds few stretches at a time, but many renders may come one after the other.
      maxQueue: Infinity,
    });
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
      const { made, read } = (await this.#pool.run(task)) as StretchResult<Made>;
      for (const [key, piece, crc] of read) summedBehind(masters.get(key))?.tell(piece, crc);
      return made;
    };
    return {
      width: this.#width(share),
      block: (stretch) => run<Block>(stretch, null),
      words: (stretch, order) => run<ShortenedStretch>(stretch, order),
    };
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

  #width(share: number): number {
    return Math.max(1, Math.min(share, this.most)) + IN_HAND;
  }

  /** Ends all threads. */
  async close(): Promise<void> {
    await this.#pool.destroy();
  }
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

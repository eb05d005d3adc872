import { availableParallelism } from 'node:os';
import { serialize } from 'node:v8';
import { Piscina } from 'piscina';
import { AudioRefused, PcmFileSource, type Block, type ByteSource, type PcmSource } from '@oiseau/audio/pcm';
import {
  wordBytes,
  type ProgrammeOrder,
  type ShortenedStretch,
  type SourcesByKey,
  type Stretch,
  type Stretches,
  type WordsOrder,
} from '@oiseau/render';
import type { MeasuredState, Measurer } from '@oiseau/audio/measure';
import type { HasSharedFile, SharedFile } from './file-source.js';
import type {
  MeasureTask,
  RenderWork,
  SharedMaster,
  StretchFailure,
  StretchResult,
  StretchTask,
} from './render-thread.js';

/** Beyond so many threads the one that joins what they make is what all wait for. */
const MOST_THREADS = 16;
/** Stretches that wait, made or to be made, so that no thread is ever idle while the one that joins is busy. */
const IN_HAND = 2;
const IDLE_MS = 10_000;
/** Runs are made side by side as long as what is made of the later ones, and waits for the first, is no more than this in bytes. */
const MOST_AHEAD = 100e6;

/** Bytes of a stretch in words; as it sounds where none are ordered. */
const bytesOf = ({ from, to }: Stretch, order: WordsOrder | null): number =>
  wordBytes(to - from, order ?? { format: 'float64' });

/** Memory that all threads share, used again and again: what is sent from one to another makes V8 look through its heap as if it were new. */
class Memories {
  readonly #free: SharedArrayBuffer[] = [];

  /** @returns so many bytes, or more */
  take(bytes: number): SharedArrayBuffer {
    const at = this.#free.findIndex(({ byteLength }) => byteLength >= bytes);
    const [free] = at < 0 ? [] : this.#free.splice(at, 1);
    return free ?? new SharedArrayBuffer(bytes);
  }

  give(memory: SharedArrayBuffer): void {
    this.#free.push(memory);
  }
}

let renders = 0;

/** Work that waits for a thread. */
interface Waiting {
  /** The one thread that may do it; null for any. */
  readonly thread: number | null;
  readonly begin: (thread: Piscina) => Promise<void>;
  readonly refuse: (why: Error) => void;
}

/** Threads that render chunks, one per core; started on demand and stopped when idle. */
export class Threads {
  /** Pools of one thread each: which thread does what is decided here, since a run is made by one. */
  readonly #threads: readonly Piscina[];
  readonly #busy = new Set<number>();
  readonly #waiting: Waiting[] = [];

  /**
   * @param file the built program of such a thread
   * @param most threads at the most, 1 or more
   * @param ready whether all of them begin at once, and stay: for callers that will need them all
   */
  constructor(
    file: string,
    readonly most = Math.min(MOST_THREADS, availableParallelism()),
    ready = false,
  ) {
    const settings = { filename: file, idleTimeout: IDLE_MS, minThreads: ready ? 1 : 0, maxThreads: 1 };
    this.#threads = Array.from({ length: most }, () => new Piscina(settings));
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
    const memories = new Memories();
    const runs = new Runs(Math.min(share, this.most));
    const make = async <Made>(stretch: Stretch, words: WordsOrder | null): Promise<Made> => {
      const memory = memories.take(bytesOf(stretch, words));
      const task: StretchTask = { render, work, stretch, words, memory };
      const answer = (await this.#run(task, runs.threadOf(stretch, words))) as
        StretchResult<Made> | StretchFailure;
      if ('failed' in answer) throw errorOf(answer);
      const { made, read } = answer;
      for (const [key, piece, crc] of read) sharedFileOf(masters.get(key))?.tell?.(piece, crc);
      return made;
    };
    return {
      width: (stretch, order) => runs.ahead(stretch, order) + this.#width(share),
      block: (stretch) => make<Block>(stretch, null),
      words: (stretch, order) => make<ShortenedStretch>(stretch, order),
      done: (memory) => {
        if (memory instanceof SharedArrayBuffer) memories.give(memory);
      },
    };
  }

  /** Measures stretches of words. @param share of the threads that are taken for it at the most, 1 or more */
  measurer(share = this.most): Measurer {
    return {
      width: this.#width(share),
      measure: (order) => this.#run({ measure: order }, null) as Promise<MeasuredState>,
      room: (bytes) => new Uint8Array(new SharedArrayBuffer(bytes)),
    };
  }

  /** A caller with all threads keeps them busy while results wait; of a share no more are under way than it has threads. */
  #width(share: number): number {
    return share < this.most ? Math.max(1, share) : this.most + IN_HAND;
  }

  /** Has a task done as soon as a thread is free for it, in the order in which tasks are asked for. */
  #run(task: StretchTask | MeasureTask, thread: number | null): Promise<unknown> {
    return new Promise((resolve, reject) => {
      const begin = (by: Piscina): Promise<void> => by.run(task).then(resolve, reject);
      this.#waiting.push({ thread, begin, refuse: reject });
      this.#beginNext();
    });
  }

  #beginNext(): void {
    for (const [i, thread] of this.#threads.entries()) {
      if (this.#busy.has(i)) continue;
      const at = this.#waiting.findIndex((each) => each.thread === null || each.thread === i);
      const [next] = at < 0 ? [] : this.#waiting.splice(at, 1);
      if (!next) continue;
      this.#busy.add(i);
      void next.begin(thread).then(() => {
        this.#busy.delete(i);
        this.#beginNext();
      });
    }
  }

  /** Ends all threads, and whatever still waits for one. */
  async close(): Promise<void> {
    for (const { refuse } of this.#waiting.splice(0)) refuse(new Error('The threads have ended.'));
    await Promise.all(this.#threads.map((thread) => thread.destroy()));
  }
}

/** Which thread makes which run of a render, and how many of them are made side by side. */
class Runs {
  #run = '';
  #thread = 0;
  /** Runs that were begun before this one. */
  #before = -1;

  /** @param share of the threads that this render may take */
  constructor(readonly share: number) {}

  /** Stretches that may be made ahead of the run that is taken. @param order null for a stretch as it sounds */
  ahead(stretch: Stretch, order: WordsOrder | null): number {
    return stretch.run ? (this.#sideBySide(stretch, order) - 1) * stretch.run.stretches : 0;
  }

  /** Is asked for each stretch in order: a new run goes to the next thread. */
  threadOf(stretch: Stretch, order: WordsOrder | null): number | null {
    if (!stretch.run) return null;
    const run = `${stretch.programme} ${stretch.run.from}`;
    if (this.#run !== run) {
      this.#run = run;
      this.#thread = ++this.#before % this.#sideBySide(stretch, order);
    }
    return this.#thread;
  }

  #sideBySide(stretch: Stretch, order: WordsOrder | null): number {
    const bytes = bytesOf(stretch, order) * (stretch.run?.stretches ?? 1);
    return Math.min(this.share, 1 + Math.floor(MOST_AHEAD / bytes));
  }
}

function errorOf({ failed: { message, refusal, system } }: StretchFailure): Error {
  return refusal ? new AudioRefused(refusal, message) : Object.assign(new Error(message), { code: system });
}

/** The open file behind a master, where it is one that other threads can read. */
const sharedFileOf = (source: PcmSource | undefined): SharedFile | undefined =>
  source instanceof PcmFileSource ? (source.bytes as ByteSource & HasSharedFile).shared : undefined;

function sharedMasters(masters: SourcesByKey): Record<string, SharedMaster> | null {
  const shared: Record<string, SharedMaster> = {};
  for (const [key, source] of masters) {
    const file = sharedFileOf(source);
    if (!file || !(source instanceof PcmFileSource)) return null;
    shared[key] = { fd: file.fd, size: file.size, info: source.info, told: file.tell !== undefined };
  }
  return shared;
}

function inSharedMemory(work: RenderWork): SharedArrayBuffer {
  const bytes = serialize(work);
  const shared = new SharedArrayBuffer(bytes.length);
  new Uint8Array(shared).set(bytes);
  return shared;
}

import { constants, setPriority } from 'node:os';
import { deserialize } from 'node:v8';
import { AudioRefused, PcmFileSource, type PcmInfo } from '@oiseau/audio/pcm';
import { measureStretch, type MeasureOrder } from '@oiseau/audio/measure';
import { StretchMaker, wordBytes, type ProgrammeOrder, type Stretch, type WordsOrder } from '@oiseau/render';
import { systemCode } from './errors.js';
import { SharedFile, type FileHandleNumber } from './shared-file.js';

/** A master whose file the asking thread keeps open. */
export interface SharedMaster extends FileHandleNumber {
  readonly info: PcmInfo;
  /** Whether each piece that is read of it is to be told. */
  readonly told: boolean;
}

/** What a render is made of. */
export interface RenderWork {
  readonly programmes: Readonly<Record<string, ProgrammeOrder>>;
  readonly masters: Readonly<Record<string, SharedMaster>>;
}

/** A stretch of words to be measured. */
export interface MeasureTask {
  readonly measure: MeasureOrder;
}

/** One stretch, of a render whose work is told beside it: as words where they are ordered, else as it sounds. */
export interface StretchTask {
  readonly render: number;
  /** A `RenderWork`, serialized, in memory that all threads share. */
  readonly work: SharedArrayBuffer;
  readonly stretch: Stretch;
  readonly words: WordsOrder | null;
  /** In which it is laid: what is made of it tells where. */
  readonly memory: SharedArrayBuffer;
}

/** A piece of a master that was read: its key, its place among the pieces, its CRC-32. */
export type ReadPiece = readonly [master: string, piece: number, crc: number];

export interface StretchResult<Made> {
  readonly made: Made;
  readonly read: readonly ReadPiece[];
}

/** An error in a form that survives the way between threads: class and properties would be lost. */
export interface StretchFailure {
  readonly failed: {
    readonly message: string;
    readonly refusal?: AudioRefused['reason'];
    readonly system?: string;
  };
}

// The thread that joins the chunks, and the server, have priority. On Linux this is told of the thread alone.
setPriority(constants.priority.PRIORITY_BELOW_NORMAL / 2);

let current: { readonly render: number; readonly maker: StretchMaker } | undefined;
/** Pieces read since the last answer. */
let read: ReadPiece[] = [];

function makerOf({ render, work }: StretchTask): StretchMaker {
  if (current?.render === render) return current.maker;
  SharedFile.forget();
  const { programmes, masters } = deserialize(Buffer.from(new Uint8Array(work))) as RenderWork;
  const sources = Object.entries(masters).map(([key, { info, told, ...file }]) => {
    const bytes = new SharedFile(
      file,
      told
        ? (piece, crc) => {
            read.push([key, piece, crc]);
          }
        : undefined,
    );
    return [key, new PcmFileSource(info, bytes)] as const;
  });
  current = { render, maker: new StretchMaker(programmes, new Map(sources)) };
  return current.maker;
}

/** One task at a time: two that read one source by turns would send it back and forth. */
let turn: Promise<unknown> = Promise.resolve();

/** The program of a thread: makes a stretch, or measures one. */
export default function work(task: StretchTask | MeasureTask): Promise<unknown> {
  const done = turn.then(() => ('measure' in task ? measureStretch(task.measure) : make(task)));
  turn = done.catch(() => undefined);
  return done;
}

async function make(task: StretchTask): Promise<unknown> {
  try {
    const { stretch, words: order, memory } = task;
    const maker = makerOf(task);
    const length = stretch.to - stretch.from;
    const made = order
      ? await maker.words(stretch, order, new Uint8Array(memory, 0, wordBytes(length, order)))
      : await maker.block(stretch, {
          left: new Float64Array(memory, 0, length),
          right: new Float64Array(memory, length * Float64Array.BYTES_PER_ELEMENT, length),
        });
    const told = read;
    read = [];
    return { made, read: told };
  } catch (error) {
    return failureOf(error);
  }
}

function failureOf(error: unknown): StretchFailure {
  if (!(error instanceof Error)) throw error;
  const { message } = error;
  if (error instanceof AudioRefused) return { failed: { message, refusal: error.reason } };
  const system = systemCode(error);
  if (system === undefined) throw error;
  return { failed: { message, system } };
}

import type { Interval, LiveReading, PcmInfo, Samples, Sequence } from '@oiseau/core';

/** The programme as the worker needs it: pure data. */
export interface PlayerProgramme {
  readonly sequence: Sequence;
  /** Every master that it plays, by its key: where to read it, and its header. */
  readonly masters: ReadonlyMap<string, { readonly url: string; readonly info: PcmInfo }>;
}

/** Stretches of the programme that are heard by themselves. */
export interface Heard {
  readonly stretches: readonly Interval<Samples>[];
  /** Over and over again. */
  readonly loop: boolean;
}

/** Interface → worker. */
export type WorkerMessage =
  | { readonly type: 'programme'; readonly programme: PlayerProgramme }
  /** Start at a sample of the programme; what an earlier `run` still sends is void. */
  | {
      readonly type: 'play';
      readonly run: number;
      readonly from: number;
      /** Only these stretches, one after the other; null: on to the end. */
      readonly heard: Heard | null;
    }
  /** Other stretches for the run under way, after an edit that moved them. */
  | { readonly type: 'heard'; readonly heard: Heard }
  | { readonly type: 'stop' }
  /** The line to the audio thread, handed over once. */
  | { readonly type: 'line'; readonly port: MessagePort };

/** Worker → interface. */
export interface WorkerReport {
  readonly type: 'failed';
  readonly message: string;
}

/** Worker → audio thread. `position` is the programme sample of the block's first; `last` ends the programme. */
export interface AudioChunk {
  readonly run: number;
  readonly position: number;
  readonly left: Float32Array;
  readonly right: Float32Array;
  readonly last: boolean;
}

/** Audio thread → worker: how many samples of a run have been taken out of its queue in all. */
export interface AudioDemand {
  readonly run: number;
  readonly taken: number;
}

/** Interface → audio thread. */
export type WorkletMessage =
  | { readonly type: 'run'; readonly run: number }
  | { readonly type: 'stop' }
  | { readonly type: 'line'; readonly port: MessagePort };

/** Audio thread → interface. */
export type WorkletReport =
  | {
      readonly type: 'position';
      readonly run: number;
      readonly position: number;
      readonly reading: LiveReading;
      readonly gaps: number;
    }
  | { readonly type: 'ended'; readonly run: number };

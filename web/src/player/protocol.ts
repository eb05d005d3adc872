import type { Interval, Samples } from '@oiseau/audio/time';
import type { LiveReading } from '@oiseau/audio/measure';
import type { PcmInfo } from '@oiseau/audio/pcm';
import type { Sequence } from '@oiseau/album/model';

/** The programme as the worker needs it: pure data. */
export interface PlayerProgramme {
  readonly sequence: Sequence;
  /** What is heard instead by one key, at the same moment: the same songs at the same places. */
  readonly other?: Sequence | undefined;
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
  | {
      readonly type: 'programme';
      readonly programme: PlayerProgramme;
      /** Something is dragged: to be heard at once, from rest a little before the place that is heard. */
      readonly soon: boolean;
    }
  /** How loud both are over a stretch, so that they can be heard alike; the answer carries the number. */
  | { readonly type: 'match'; readonly number: number; readonly stretch: Interval<Samples> }
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
export type WorkerReport =
  | { readonly type: 'failed'; readonly message: string }
  | ({ readonly type: 'matched'; readonly number: number } & MatchedLoudness);

/** Integrated loudness of what is played and of what is heard instead, LUFS; null: silent. */
export interface MatchedLoudness {
  readonly own: number | null;
  readonly other: number | null;
}

interface Channels {
  readonly left: Float32Array;
  readonly right: Float32Array;
}

/** Worker → audio thread. */
export interface AudioChunk extends Channels {
  readonly run: number;
  /** Samples of this run before it: a chunk that begins before the end of what was sent takes the place of the rest. */
  readonly time: number;
  /** The programme sample of its first. */
  readonly position: number;
  /** What is heard instead. */
  readonly other: Channels | null;
  /** Ends the programme. */
  readonly last: boolean;
}

/** Worker → audio thread: where it is. */
export interface AudioQuestion {
  readonly ask: number;
}

/** Audio thread → worker: how many samples of a run have been played. `answer`: it was asked. */
export interface AudioDemand {
  readonly run: number;
  readonly played: number;
  readonly answer?: boolean;
}

/** Interface → audio thread. */
export type WorkletMessage =
  | { readonly type: 'run'; readonly run: number }
  | { readonly type: 'stop' }
  | { readonly type: 'line'; readonly port: MessagePort }
  /** Which of both is heard, and by how much each is turned down (linear) so that neither is louder. */
  | { readonly type: 'side'; readonly other: boolean; readonly gains: Gains };

export interface Gains {
  readonly own: number;
  readonly other: number;
}

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

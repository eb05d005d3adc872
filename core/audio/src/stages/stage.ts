import type { Message } from '@oiseau/messages';
import type { PcmSource } from '../pcm/block.js';
import type { MovingDb } from './automation.js';
import type { Soon } from './recursive-source.js';
import type * as z from '../schema/z.js';

/** A value of a stage that may be automated. */
export interface AutomatedValue<Settings> {
  /** “Drive”; of a band its kind and frequency. */
  readonly label: Message;
  readonly value: MovingDb;
  /** dB. */
  readonly range: Range;
  /** The settings with another value. */
  readonly changed: (value: MovingDb) => Settings;
}

/** A number of a stage that is set as one figure. */
export interface StageFigure<Settings> {
  readonly label: Message;
  readonly unit: 'dB' | 'dBTP' | 'ms' | ': 1' | 'Hz';
  readonly range: Range;
  readonly step: number;
  readonly logarithmic?: boolean;
  /** The word for a value at which it does nothing. */
  readonly off?: { readonly value: number; readonly label: Message };
  readonly valueOf: (settings: Settings) => number;
  readonly changed: (settings: Settings, value: number) => Settings;
}

/** The least and the most. */
export type Range = readonly [least: number, most: number];

/** One stage of a treatment: limits, neutral value, wording, and the figures that set it. */
export interface Stage<Settings> {
  readonly label: Message;
  /** Reads its settings; a treatment without them gets `absent`. */
  readonly schema: z.ZodType;
  /** The settings of a treatment that does not have the stage. */
  readonly absent: Settings | null;
  /** The settings it starts with when it is added. */
  readonly added: Settings;
  readonly isNeutral: (settings: Settings) => boolean;
  /** Its settings in a few words, for a list of changes. */
  readonly words: (settings: Settings) => Message;
  readonly automated: (settings: Settings) => readonly AutomatedValue<Settings>[];
  readonly figures: readonly StageFigure<Settings>[];
  /** Of a stage with gain reduction: its constant gain, dB. */
  readonly makeupDb?: (settings: Settings) => number;
}

/** A stage at work: a source made of a source. */
export type StageSound<Settings> = (source: PcmSource, settings: Settings, soon: Soon) => PcmSource;

import * as z from '@oiseau/audio/z';
import { partSoundSchema, soundOfSequence } from './measured-sound.js';
import type { Part } from '../layout/part.js';

/** A question: what does a lathe mind of this side? */
export const sideQuestionSchema = z.strictObject({ ...partSoundSchema.shape, kind: z.literal('side') });
export type SideQuestion = z.output<typeof sideQuestionSchema>;

/** What a cutting lathe minds of a side, told for each second of it. */
export interface SideCourse {
  /** Mean level of both channels, dBFS of a full-scale square. */
  readonly levelDb: readonly number[];
  /** Level of the side signal against the middle, dB: how wide it is. */
  readonly widthDb: readonly number[];
}

/** A second of a side, and what was found there. */
export interface SideMoment {
  /** Seconds from the start of the side. */
  readonly at: number;
  readonly value: number;
}

/** What was measured of a side (docs/rules.md 11.6). */
export interface SideFigures {
  readonly course: SideCourse;
  /** The second in which the bass of both channels is least alike, with their correlation; null where there is no bass. */
  readonly bassCorrelation: SideMoment | null;
  /** The second in which the bass lies most in the side signal, with its level against the middle, dB. */
  readonly bassWidthDb: SideMoment | null;
  /** The brightest second of the last third, with how much brighter that third is than what comes before it, dB. */
  readonly brighterDb: SideMoment | null;
}

export type SidesByName = ReadonlyMap<string, SideFigures>;

/** What tells a side from all others, as text. */
export const nameOfSide = ({ songs, sound }: SideQuestion): string =>
  JSON.stringify([sound, songs.map(({ id, region }) => [id, region])]);

/** The question that there is to be asked of a part; null of a disc, or where nothing sounds. */
export function sideQuestion({ kind, sequence }: Pick<Part, 'kind' | 'sequence'>): SideQuestion | null {
  return kind === 'side' && sequence.songs.length > 0 ? { ...soundOfSequence(sequence), kind: 'side' } : null;
}

import { limiterSchema } from '@oiseau/audio/stages';
import { CODING_NAMES } from '@oiseau/codings';
import { partSoundSchema } from './measured-sound.js';
import { ticksSchema } from '../model/region.js';
import * as z from '@oiseau/audio/z';

/** How a lossy deliverable is coded. */
const codedSchema = z.strictObject({
  /** Of the deliverable. */
  name: z.string().min(1).max(200),
  coding: z.enum(CODING_NAMES),
  rate: z.number().min(8000).max(192_000),
  bitrate: z.number().nullable(),
  quality: z.number().nullable(),
});

/**
 * A question: under which ceiling of the album's limiter do the files of lossy deliverables stay under full scale when they are played? It is
 * answered by encoding the loudest moments of the songs.
 */
export const encodersRoomSchema = z.strictObject({
  kind: z.literal('room'),
  part: partSoundSchema,
  /** The limiter that the album has, or would have. */
  limiter: limiterSchema,
  /** In time of the part. */
  moments: z
    .array(z.strictObject({ start: ticksSchema, end: ticksSchema }))
    .min(1)
    .max(99),
  coded: z.array(codedSchema).min(1).max(20),
});
export type EncodersRoom = z.output<typeof encodersRoomSchema>;

/** True peaks of the loudest moments before encoding and after decoding, dBTP. */
export interface Overshoot {
  /** Of the deliverable. */
  readonly name: string;
  readonly before: number;
  readonly after: number;
}

/** What encoders make of the album under two ceilings. */
export interface RoomFigures {
  /** As the limiter stands. */
  readonly now: readonly Overshoot[];
  /** The ceiling that keeps every one of them under 0 dBTP, dBTP. */
  readonly ceiling: number;
  /** With that ceiling. */
  readonly then: readonly Overshoot[];
}

/** No limiter goes lower. */
const LOWEST_DBTP = -20;
/** What is left free under full scale, dB. */
const MARGIN_DB = 0.1;

/** The next lower ceiling to be tried, in tenths of a decibel; null where everything stays under 0 dBTP. */
export function lowerCeiling(ceiling: number, found: readonly Overshoot[]): number | null {
  const highest = Math.max(...found.map(({ after }) => after));
  if (highest < 0) return null;
  return Math.max(LOWEST_DBTP, Math.floor(10 * (ceiling - highest - MARGIN_DB) + 1e-9) / 10);
}

import { secondsToTicks, type Ticks } from '@oiseau/audio/time';
import { atMost } from '@oiseau/audio/schema';
import { alternatesOf, alternateSchema } from './alternate-schema.js';
import { regionSchema, ticksSchema, wholeMaster } from './region.js';
import { tempoShape } from './tempo.js';
import { laterTrackText, trackText } from './text-fields.js';
import * as z from '@oiseau/audio/z';

/** What is silent of a song: where a disc marks it, and how it is counted. Nothing here changes a sample. */
export const songMarksSchema = z.strictObject({
  /** Index points 02 and up, after the start mark. */
  indexes: atMost(97, 'indexes', z.array(ticksSchema)),
  /** How long before its audio the start mark stands, negative for a mark inside it; null: the album's. */
  markLead: ticksSchema.nullable(),
  /** How long after the end of the song before the pause (index 00) begins; null: right there. */
  pauseDelay: ticksSchema.nullable(),
  /** The tempo in which the song ends; `beat` counts from the start of the master. Null: not set. */
  tempo: z.strictObject({ ...tempoShape, beat: ticksSchema }).nullable(),
  /** Where its loudest moment begins, from the start of the master, where another than the one that is found says more; null: that one. */
  loudest: ticksSchema.nullable().default(null),
});
export type SongMarks = z.output<typeof songMarksSchema>;

export const songSchema = z.strictObject({
  /** Stable through reordering and undo; unique in the album. */
  id: z.string().min(1).max(40),
  /** Whether it is a track with a number. One that is not is hidden in the first pause of the first disc. */
  numbered: z.boolean(),
  region: regionSchema,
  marks: songMarksSchema,
  /** Its other recordings, by name. */
  alternates: alternatesOf(alternateSchema).default({}),
  ...trackText,
  ...laterTrackText,
});
export type Song = z.output<typeof songSchema>;

/** Two seconds: the pause before track 1 that the Red Book asks for, and the gap people expect to start from. */
export const DEFAULT_GAP = secondsToTicks(2);

/** Marks as the album has them. */
export const NO_MARKS: SongMarks = {
  ...{ indexes: [], markLead: null, pauseDelay: null, tempo: null, loudest: null },
};

/** A track that plays a whole master, two seconds after the song before it. */
export function newSong(id: string, master: string, title: string, gapBefore: Ticks = DEFAULT_GAP): Song {
  return {
    id,
    numbered: true,
    region: wholeMaster(master, gapBefore),
    marks: NO_MARKS,
    alternates: {},
    title,
    performer: '',
    songwriter: '',
    composer: '',
    arranger: '',
    message: '',
    isrc: '',
    copyPermitted: false,
    preEmphasis: false,
    lyricist: '',
    publisher: '',
    comment: '',
    language: '',
    advisory: '',
    tags: {},
    secondWords: {},
  };
}

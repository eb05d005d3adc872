import { z } from './schema-settings.js';
import { FADE_SHAPES } from '../dsp/fade.js';
import { secondsToTicks, ticks, type Ticks } from '../time/ticks.js';
import { deliverableSchema } from './deliverable.js';
import { acceptedShape, albumText, laterAlbumText, laterTrackText, trackText } from './text-fields.js';
import { tempoShape } from './tempo.js';

/** An integer number of ticks; the brand is put on once the number is known to be whole. */
const ticksSchema = z.int().transform((value): Ticks => ticks(value));
const fadeSchema = z.strictObject({ length: ticksSchema, shape: z.enum(FADE_SHAPES) });

/** What a track of an album kept before these fields came has in them: nothing of its own. */
export const trackSchema = z.strictObject({
  /** Stable through reordering and undo; unique in the album. */
  id: z.string().min(1).max(40),
  /** SHA-256 of the master's file. */
  master: z.string().regex(/^[0-9a-f]{64}$/),
  in: ticksSchema,
  /** null: the end of the master. */
  out: ticksSchema.nullable(),
  gapBefore: ticksSchema,
  gainDb: z.number().min(-144).max(48),
  fadeIn: fadeSchema,
  fadeOut: fadeSchema,
  indexes: z.array(ticksSchema).max(97),
  /** How long before its audio the start mark stands, negative for a mark inside it; null: the album's. */
  markLead: ticksSchema.nullable().default(null),
  /** How long after the end of the track before the pause (index 00) begins; null: right there. */
  pauseDelay: ticksSchema.nullable().default(null),
  /** The tempo in which the track ends; `beat` counts from the start of the master. Null while nobody has told it. */
  tempo: z
    .strictObject({ ...tempoShape, beat: ticksSchema })
    .nullable()
    .default(null),
  ...trackText,
  ...laterTrackText,
});

/**
 * An album as Oiseau keeps it: times in ticks, masters by content. The album *file* (`file.ts`) is its open form, with
 * times in seconds and masters by file name.
 */
export const albumSchema = z.strictObject({
  ...albumText,
  ...laterAlbumText,
  /** Findings that somebody has accepted; `track` is the track's id, null where they concern the album. */
  accepted: z
    .array(z.strictObject({ ...acceptedShape, track: z.string().max(40).nullable() }))
    .max(1000)
    .default([]),
  /** SHA-256 of the cover's file. */
  artwork: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .nullable(),
  markLead: ticksSchema,
  endPause: ticksSchema,
  /** A song in the first pause, before the start mark of track 1; it has no number, and no file of its own. */
  hidden: trackSchema.nullable().default(null),
  tracks: z.array(trackSchema).max(500),
  deliverables: z.array(deliverableSchema).max(50),
});

export type Track = z.output<typeof trackSchema>;
export type Album = z.output<typeof albumSchema>;
export type TextField = keyof typeof albumText;

/** Two seconds: the pause before track 1 that the Red Book asks for, and the gap people expect to start from. */
export const DEFAULT_GAP = secondsToTicks(2);

/** A track that plays a whole master, two seconds after the one before. */
export function newTrack(id: string, master: string, title: string): Track {
  const fade = { length: ticks(0), shape: 'linear' } as const;
  return {
    id,
    master,
    in: ticks(0),
    out: null,
    gapBefore: DEFAULT_GAP,
    gainDb: 0,
    fadeIn: fade,
    fadeOut: fade,
    indexes: [],
    markLead: null,
    pauseDelay: null,
    tempo: null,
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

/** An album with nothing in it yet but the two deliverables nearly everyone needs. */
export function newAlbum(title: string): Album {
  return {
    title,
    performer: '',
    songwriter: '',
    composer: '',
    arranger: '',
    message: '',
    genre: '',
    label: '',
    catalogNumber: '',
    upc: '',
    releaseDate: '',
    copyright: '',
    phonogram: '',
    language: 'en',
    discNumber: 1,
    discTotal: 1,
    genreCode: 0,
    comment: '',
    tags: {},
    cdTextCharset: 'iso-8859-1',
    cdTextPlain: false,
    secondLanguage: null,
    accepted: [],
    artwork: null,
    markLead: ticks(0),
    endPause: ticks(0),
    hidden: null,
    tracks: [],
    deliverables: [
      deliverableSchema.parse({ name: 'image', kind: 'cue', audio: 'wav' }),
      deliverableSchema.parse({ name: 'files', kind: 'tracks', format: 'flac', bits: 24 }),
    ],
  };
}

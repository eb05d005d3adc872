import { z } from './schema-settings.js';
import { FADE_SHAPES } from '../dsp/fade.js';
import { ticks, type Ticks } from '../time/ticks.js';
import { deliverableSchema } from './deliverable.js';
import { albumText, trackText } from './text-fields.js';

/** An integer number of ticks; the brand is put on once the number is known to be whole. */
const ticksSchema = z.int().transform((value): Ticks => ticks(value));
const fadeSchema = z.strictObject({ length: ticksSchema, shape: z.enum(FADE_SHAPES) });

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
  ...trackText,
});

/**
 * An album as Oiseau keeps it: times in ticks, masters by content. The album *file* (`file.ts`) is its open form, with
 * times in seconds and masters by file name.
 */
export const albumSchema = z.strictObject({
  ...albumText,
  /** SHA-256 of the cover's file. */
  artwork: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .nullable(),
  markLead: ticksSchema,
  endPause: ticksSchema,
  tracks: z.array(trackSchema).max(500),
  deliverables: z.array(deliverableSchema).max(50),
});

export type Track = z.output<typeof trackSchema>;
export type Album = z.output<typeof albumSchema>;
export type TextField = keyof typeof albumText;

/** Two seconds: the pause before track 1 that the Red Book asks for, and the gap people expect to start from. */
export const DEFAULT_GAP = ticks(2 * 705_600_000);

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
    title,
    performer: '',
    songwriter: '',
    composer: '',
    arranger: '',
    message: '',
    isrc: '',
    copyPermitted: false,
    preEmphasis: false,
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
    artwork: null,
    markLead: ticks(0),
    endPause: ticks(0),
    tracks: [],
    deliverables: [
      deliverableSchema.parse({ name: 'image', kind: 'cue', audio: 'wav' }),
      deliverableSchema.parse({ name: 'files', kind: 'tracks', format: 'flac', bits: 24 }),
    ],
  };
}

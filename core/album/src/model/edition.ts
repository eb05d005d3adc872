import { atMost } from '@oiseau/audio/schema';
import { albumTreatmentOverridesSchema, treatmentOverridesSchema } from '@oiseau/audio/stages';
import { editionName } from './edition-name.js';
import { MOST_PARTS, MOST_TRACKS } from './limits.js';
import { partSettingsSchema } from './parts.js';
import { regionSchema } from './region.js';
import { songMarksSchema } from './song.js';
import { albumText, trackText } from './text-fields.js';
import * as z from '@oiseau/audio/z';

/** What an edition says of one track; a field that is left out is the album's. */
const editionTrackSchema = z.strictObject({
  in: regionSchema.shape.in.optional(),
  out: regionSchema.shape.out.optional(),
  gapBefore: regionSchema.shape.gapBefore.optional(),
  fadeIn: regionSchema.shape.fadeIn.optional(),
  fadeOut: regionSchema.shape.fadeOut.optional(),
  gainDb: regionSchema.shape.gainDb.optional(),
  indexes: songMarksSchema.shape.indexes.optional(),
  sound: treatmentOverridesSchema.optional(),
  /** A recording of its own has a code of its own. */
  isrc: trackText.isrc.optional(),
  title: trackText.title.optional(),
});
export type EditionTrack = z.output<typeof editionTrackSchema>;

const songId = z.string().min(1).max(40);

/** A variant of the album for one purpose: it says only what differs. Nothing of the album is copied. */
export const editionSchema = z.strictObject({
  name: editionName,
  /** A candidate running order: it is rendered only where the command line names it. */
  draft: z.boolean().default(false),
  /** Ids of its tracks in order; null: all songs of the album in the album's order. Ids of removed songs are ignored. */
  order: atMost(MOST_TRACKS, 'tracks', z.array(songId)).nullable(),
  /** null: the album's parts, or one CD where the edition has an order. */
  parts: atMost(MOST_PARTS, 'parts', z.array(partSettingsSchema)).nullable(),
  sound: albumTreatmentOverridesSchema,
  /** By id. */
  tracks: z
    .record(songId, editionTrackSchema)
    .refine((tracks) => Object.keys(tracks).length <= MOST_TRACKS + 1, {
      error: 'An edition has at most 500 tracks.',
    }),
  /** Empty: the album's. */
  title: albumText.title,
  upc: albumText.upc,
  catalogNumber: albumText.catalogNumber,
  releaseDate: albumText.releaseDate,
});
export type Edition = z.output<typeof editionSchema>;

/** An edition that differs from the album in nothing but its name. */
export const newEdition = (name: string): Edition => ({
  ...{ name, draft: false, order: null, parts: null, sound: {}, tracks: {} },
  ...{ title: '', upc: '', catalogNumber: '', releaseDate: '' },
});

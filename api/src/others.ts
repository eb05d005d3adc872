import { deliverableSchema } from '@oiseau/album/model';
import { treatmentSchema } from '@oiseau/audio/stages';
import * as z from 'zod';
import { endpoint } from './endpoint.js';
import { coverFacts, discImage, name, sha256 } from './values.js';

/** A form of deliverable kept for every album. */
export const preset = z.object({ name: z.string(), deliverable: deliverableSchema });
export type Preset = z.output<typeof preset>;

/** What is done to a sound, kept for every album. */
export const treatmentPreset = z.object({ name: z.string(), treatment: treatmentSchema });
export type TreatmentPreset = z.output<typeof treatmentPreset>;

const openedImage = z.object({ id: z.string(), image: discImage });

/** Sizes that small copies of pictures have. */
export const THUMBNAIL_PIXELS = [96, 400] as const;

/** Pictures, presets, and disc images of others. */
export const OTHERS = {
  presets: endpoint('GET', '/presets', 'any', 'Saved presets, by name.', {
    answer: z.array(preset),
  }),
  savePreset: endpoint('PUT', '/presets/:name', 'any', 'Saves a preset, replacing one of the same name.', {
    body: deliverableSchema,
    answer: preset,
  }),
  forgetPreset: endpoint('DELETE', '/presets/:name', 'any', 'Deletes a preset.', {
    right: 'delete',
    unlimited: true,
  }),
  treatments: endpoint('GET', '/treatments', 'any', 'Saved treatments, by name.', {
    answer: z.array(treatmentPreset),
  }),
  saveTreatment: endpoint(
    'PUT',
    '/treatments/:name',
    'any',
    'Saves a treatment, replacing one of the same name.',
    {
      body: treatmentSchema,
      answer: treatmentPreset,
    },
  ),
  forgetTreatment: endpoint('DELETE', '/treatments/:name', 'any', 'Deletes a saved treatment.', {
    right: 'delete',
    unlimited: true,
  }),
  sendPicture: endpoint('POST', '/pictures', 'any', 'Adds the request body as a JPEG or PNG picture.', {
    status: 201,
    query: z.object({ name }),
    takesFile: true,
    answer: z.object({ sha256 }),
  }),
  picture: endpoint('GET', '/pictures/:sha256', 'picture', 'A picture, or a smaller copy.', {
    query: z.object({
      /** Of the copy, wide and high at the most; left out: the picture itself. */
      pixels: z.coerce.number().pipe(z.literal(THUMBNAIL_PIXELS)).optional(),
    }),
    file: 'image/*',
  }),
  coverFacts: endpoint(
    'GET',
    '/pictures/:sha256/facts',
    'picture',
    'Size, colour space and bytes of a picture.',
    {
      answer: coverFacts,
    },
  ),
  openImage: endpoint('POST', '/images', 'any', 'Opens a disc image from uploaded files.', {
    status: 201,
    body: z.strictObject({
      /** Uploads with the names that their files have in the folder. */
      files: z
        .array(z.strictObject({ upload: z.string(), name: z.string().min(1).max(255) }))
        .min(1)
        .max(50),
    }),
    answer: openedImage,
  }),
  image: endpoint('GET', '/images/:id', 'any', 'An opened disc image.', {
    right: 'work',
    answer: openedImage,
  }),
  forgetImage: endpoint('DELETE', '/images/:id', 'any', 'Closes a disc image.'),
  takeImage: endpoint('POST', '/images/:id/album', 'any', 'Creates an album from a disc image.', {
    status: 201,
    answer: z.object({ id: z.string() }),
  }),
} as const;

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
  presets: endpoint('GET', '/presets', 'any', 'Presets that people have saved, by name.', {
    answer: z.array(preset),
  }),
  savePreset: endpoint('PUT', '/presets/:name', 'any', 'Saves a preset, over one of its name.', {
    body: deliverableSchema,
    answer: preset,
  }),
  forgetPreset: endpoint('DELETE', '/presets/:name', 'any', 'Forgets a preset.', {
    right: 'delete',
    unlimited: true,
  }),
  treatments: endpoint('GET', '/treatments', 'any', 'Treatments that people have kept, by name.', {
    answer: z.array(treatmentPreset),
  }),
  saveTreatment: endpoint('PUT', '/treatments/:name', 'any', 'Keeps a treatment, over one of its name.', {
    body: treatmentSchema,
    answer: treatmentPreset,
  }),
  forgetTreatment: endpoint('DELETE', '/treatments/:name', 'any', 'Forgets a treatment.', {
    right: 'delete',
    unlimited: true,
  }),
  sendPicture: endpoint('POST', '/pictures', 'any', 'Takes a JPEG or PNG picture in: the body itself.', {
    status: 201,
    query: z.object({ name }),
    takesFile: true,
    answer: z.object({ sha256 }),
  }),
  picture: endpoint('GET', '/pictures/:sha256', 'picture', 'A picture, or a small copy of it.', {
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
    'Size, colours and weight of a picture.',
    {
      answer: coverFacts,
    },
  ),
  openImage: endpoint('POST', '/images', 'any', 'Opens a disc image whose files were sent by pieces.', {
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
  image: endpoint('GET', '/images/:id', 'any', 'A disc image that was opened.', {
    right: 'work',
    answer: openedImage,
  }),
  forgetImage: endpoint('DELETE', '/images/:id', 'any', 'Forgets a disc image.'),
  takeImage: endpoint('POST', '/images/:id/album', 'any', 'Makes an album of a disc image.', {
    status: 201,
    answer: z.object({ id: z.string() }),
  }),
} as const;

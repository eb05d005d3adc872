import { z } from 'zod';
import { measuredSoundSchema, type SoundFigures } from '@oiseau/core';
import { endpoint } from './endpoint.js';
import { jobState, measurement, sha256 } from './values.js';

const taken = z.object({ mostDb: z.number(), share: z.number(), times: z.int() });
const measured = measurement as z.ZodType<SoundFigures['measurement'], SoundFigures['measurement']>;

/** What was measured of a treated sound. */
export const soundFigures = z.object({
  measurement: measured,
  songs: z.record(z.string(), measured as z.ZodType<SoundFigures['songs'][string]>),
  compressor: taken.nullable(),
  limiter: taken.nullable(),
}) satisfies z.ZodType<SoundFigures>;

/** A treated sound: its figures, or how far its measuring is. */
export const soundRecord = z.object({
  /** By which its outline is asked for. */
  key: sha256,
  figures: soundFigures.nullable(),
  job: z.object({ state: jobState, share: z.number(), message: z.string().nullable() }).optional(),
});
export type SoundRecord = z.output<typeof soundRecord>;

/** As many songs as an album can have, and its parts. */
const MOST_SOUNDS = 200;

export const SOUNDS = {
  measureSounds: endpoint(
    'POST',
    '/albums/:id/sounds',
    'album',
    'What is measured of treated sounds, in the order in which they are asked for; what is not known yet is measured as long as somebody asks.',
    {
      most: 20_000_000,
      body: z.strictObject({ sounds: z.array(measuredSoundSchema).max(MOST_SOUNDS) }),
      answer: z.array(soundRecord),
    },
  ),
  soundOutline: endpoint(
    'GET',
    '/albums/:id/sounds/:sha256/outline',
    'album',
    'The outline of a treated sound: for each 1/75 s peak and RMS, 16 bit little-endian, then what compressor and limiter take away, a byte each in tenths of a decibel.',
    { file: 'application/octet-stream' },
  ),
  soundPowers: endpoint(
    'GET',
    '/albums/:id/sounds/:sha256/powers',
    'album',
    'Mean power of each 100 ms of a treated sound, 32-bit floats, little-endian.',
    { file: 'application/octet-stream' },
  ),
} as const;

import * as z from 'zod';

/** What receivers of each kind send back when they have taken something (standins/README.md); whatever else they say is let through. */

/** A plant's own table of marks, for each disc. */
export const plantReceipt = z.looseObject({
  number: z.string(),
  discs: z.array(
    z.looseObject({
      title: z.string(),
      upc: z.string(),
      leadOut: z.string(),
      marks: z.array(
        z.looseObject({
          ...{ track: z.number(), index: z.number(), at: z.string(), isrc: z.string(), title: z.string() },
        }),
      ),
    }),
  ),
});

/** How loud a streaming service will play each file. */
export const serviceReceipt = z.looseObject({
  targetLufs: z.number(),
  tracks: z.array(
    z.looseObject({
      title: z.string(),
      lufs: z.number().nullable(),
      gainDb: z.number(),
      playsAtLufs: z.number().nullable(),
    }),
  ),
});

/** What a drive says of itself, and what lies in it. */
export const driveFacts = z.looseObject({
  speeds: z.array(z.number()).default([]),
  medium: z.looseObject({ kind: z.enum(['none', '74', '80']), state: z.string() }).optional(),
});

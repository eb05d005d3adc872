import * as z from 'zod';

/** Every answer that is not all right: a sentence for the person, and what the interface needs to know besides. */
export const failure = z.looseObject({ error: z.string(), code: z.string().optional() });
export type FailureAnswer = z.output<typeof failure>;

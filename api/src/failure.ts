import type { Message } from '@oiseau/messages';
import * as z from 'zod';

/** A message of `@oiseau/messages`: English in ICU MessageFormat, and its values. */
export const messageSchema = z.object({
  text: z.string(),
  values: z.record(z.string(), z.unknown()).optional(),
}) as unknown as z.ZodType<Message>;

/** Why a job failed, in English and as a message that a client words; null where it has not failed. */
export const sentence = { message: z.string().nullable(), words: messageSchema.optional() };

/**
 * Every answer that is not all right: a sentence in English (`error`), the same as a message that a client words in its own language
 * (`words`), and what the interface needs to know besides.
 */
export const failure = z.looseObject({
  error: z.string(),
  code: z.string().optional(),
  words: messageSchema.optional(),
});
export type FailureAnswer = z.output<typeof failure>;

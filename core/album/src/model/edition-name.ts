import * as z from '@oiseau/audio/z';

export const editionName = z
  .string()
  .min(1)
  .max(100)
  .refine((name) => !/\p{Cc}/u.test(name) && name === name.trim(), {
    error: (issue) => `“${String(issue.input)}” can’t be used as the name of an edition.`,
  });

/** Two names that a person or a file system takes for one have the same key. */
export const editionKey = (name: string): string => name.normalize('NFKC').toLowerCase();

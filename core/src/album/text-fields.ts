import { z } from './schema-settings.js';

/** Text of a person, kept as typed; control codes other than line breaks and tabs have no place in it. */
const text = z
  .string()
  .max(4000)
  .refine((value) => !/[^\P{Cc}\n\r\t]/u.test(value), 'The text holds a control character.');

const sharedText = {
  title: text,
  performer: text,
  songwriter: text,
  composer: text,
  arranger: text,
  message: text,
};

/** The words and codes of an album. Codes are kept as typed; the checks say when one is not valid. */
export const albumText = {
  ...sharedText,
  genre: text,
  label: text,
  catalogNumber: text,
  upc: text,
  releaseDate: text,
  copyright: text,
  phonogram: text,
  /** BCP 47. */
  language: text,
  discNumber: z.int().min(1).max(999),
  discTotal: z.int().min(1).max(999),
};

/** The words, codes and flags of a track. */
export const trackText = {
  ...sharedText,
  isrc: text,
  copyPermitted: z.boolean(),
  preEmphasis: z.boolean(),
};

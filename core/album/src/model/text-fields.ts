import { msg, type Message } from '@oiseau/messages';
import { plainText } from '@oiseau/audio/pcm';
import { CD_TEXT_CHARSETS } from '@oiseau/codings';
import { atMost } from '@oiseau/audio/schema';
import * as z from '@oiseau/audio/z';

/** The words that the disc itself can hold, of the album and of each track. */
export const CD_TEXT_FIELDS = [
  'title',
  'performer',
  'songwriter',
  'composer',
  'arranger',
  'message',
] as const;
export type CdTextField = (typeof CD_TEXT_FIELDS)[number];

/** Characters of a text. */
export const MOST_TEXT = 4000;
/** Text from any source, made valid for an album. */
export const keptText = (text: string): string => plainText(text, MOST_TEXT);

/** Text of a person, kept as typed; control codes other than line breaks and tabs have no place in it. */
const text = z
  .string()
  .max(MOST_TEXT)
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

/** A field that an album or a file from before it does not have is empty. */
const later = text.default('');

/** Words of a second language, by field. */
const secondWords = z.partialRecord(z.enum(CD_TEXT_FIELDS), text).default({});

/** Names that tags of one's own may have. */
export const TAG_NAME = /^[A-Z0-9][A-Z0-9 _-]{0,59}$/;

/** Tags of one's own that an album or a track may have. */
const MOST_TAGS = 200;

/** Tags of a person's own, by their name in capitals. */
const ownTags = atMost(
  MOST_TAGS,
  'tags',
  z.record(
    z
      .string()
      .regex(TAG_NAME, 'A tag name has only capital letters, digits, spaces, “_” and “-”, at most 60.'),
    text,
  ),
).default({});

/** The code of an accepted finding, and the reason. */
export const acceptedShape = { code: z.string().min(1).max(60), reason: text.min(1) };

/** More words of an album; each has a default, so that what was made before them loads as it is. */
export const laterAlbumText = {
  /** Code of the genre on the disc, 0 for none. */
  genreCode: z.int().min(0).max(28).default(0),
  comment: later,
  tags: ownTags,
  cdTextCharset: z.enum(CD_TEXT_CHARSETS).default('iso-8859-1'),
  /** Substitutes for characters outside the character set are accepted. */
  cdTextPlain: z.boolean().default(false),
  /** The album's words in a second language of CD-Text; null: there is none. */
  secondLanguage: z
    .strictObject({ language: text, charset: z.enum(CD_TEXT_CHARSETS), words: secondWords })
    .nullable()
    .default(null),
};

/** More words of a track. */
export const laterTrackText = {
  lyricist: later,
  publisher: later,
  comment: later,
  /** BCP 47; empty: the album's. */
  language: later,
  advisory: z.enum(['', 'explicit', 'clean']).default(''),
  tags: ownTags,
  secondWords,
};

/** Names of texts that an album and its tracks have, in the middle of a sentence. */
export const TEXT_NAMES = {
  title: msg('title'),
  performer: msg('performer'),
  songwriter: msg('songwriter'),
  composer: msg('composer'),
  arranger: msg('arranger'),
  message: msg('message'),
} as const satisfies Readonly<Record<CdTextField, Message>>;

/** Texts that a master can bring with it. */
export const EMBEDDED_FIELDS = [
  'title',
  'performer',
  'album',
  'albumPerformer',
  'composer',
  'lyricist',
  'arranger',
  'publisher',
  'isrc',
  'upc',
  'genre',
  'label',
  'catalogNumber',
  'releaseDate',
  'copyright',
  'phonogram',
  'language',
  'advisory',
  'comment',
] as const;
export type EmbeddedField = (typeof EMBEDDED_FIELDS)[number];

type Tags = Readonly<Record<string, string>>;

/** Names under which containers keep what a field means; the first that is filled in counts. */
const NAMES: Readonly<Record<EmbeddedField, readonly string[]>> = {
  title: ['TITLE'],
  performer: ['ARTIST', 'PERFORMER'],
  album: ['ALBUM'],
  albumPerformer: ['ALBUM_ARTIST', 'ALBUMARTIST'],
  composer: ['COMPOSER'],
  lyricist: ['LYRICIST', 'TEXT'],
  arranger: ['ARRANGER', 'TPE4'],
  publisher: ['MUSICPUBLISHER'],
  isrc: ['ISRC', 'TSRC'],
  upc: ['BARCODE', 'UPC', 'EAN'],
  genre: ['GENRE'],
  label: ['LABEL', 'ORGANIZATION'],
  catalogNumber: ['CATALOGNUMBER'],
  releaseDate: ['DATE', 'YEAR'],
  copyright: ['COPYRIGHT'],
  phonogram: ['PHONOGRAM', 'TPRO'],
  language: ['LANGUAGE'],
  advisory: ['ADVISORY'],
  comment: ['COMMENT', 'DESCRIPTION'],
};

/** What a decoder reports as tags (keys in capitals), by what it means (docs/rules.md 9.1). */
export function fieldsFromTags(tags: Tags): Partial<Record<EmbeddedField, string>> {
  const found = (names: readonly string[]): string | undefined =>
    names.map((name) => tags[name]?.trim()).find(Boolean);
  const fields = Object.fromEntries(
    Object.entries(NAMES).flatMap(([field, names]) => {
      const value = found(names);
      return value ? [[field, value]] : [];
    }),
  ) as Partial<Record<EmbeddedField, string>>;
  // One container’s name of the label is another’s of who publishes the song: beside a label, or where that has a name of its own, it is clear.
  const publisher = found(['PUBLISHER']);
  if (publisher) {
    if (!fields.label) fields.label = publisher;
    else if (publisher !== fields.label) fields.publisher ??= publisher;
  }
  // Items of MP4 have a number for the advice.
  const rating = { '1': 'explicit', '2': 'clean' }[tags.RATING ?? ''];
  if (rating) fields.advisory ??= rating;
  return fields;
}

/** The name that decoders have for what a field means. */
export const tagOfField = (field: EmbeddedField): string => NAMES[field][0] ?? field.toUpperCase();

import type { EmbeddedField } from '../pcm/embedded-text.js';

/** Names under which containers keep what a field means; the first that is filled in counts. */
const NAMES: Record<EmbeddedField, readonly string[]> = {
  title: ['TITLE'],
  performer: ['ARTIST', 'PERFORMER'],
  album: ['ALBUM'],
  composer: ['COMPOSER'],
  arranger: ['ARRANGER', 'TPE4'],
  isrc: ['ISRC', 'TSRC'],
  upc: ['BARCODE', 'UPC', 'EAN'],
  genre: ['GENRE'],
  label: ['LABEL', 'PUBLISHER', 'ORGANIZATION'],
  releaseDate: ['DATE', 'YEAR'],
  copyright: ['COPYRIGHT'],
  comment: ['COMMENT', 'DESCRIPTION'],
};

/** What a decoder reports as tags (keys in capitals), by what it means (docs/rules.md 9.1). */
export function fieldsFromTags(
  tags: Readonly<Record<string, string>>,
): Partial<Record<EmbeddedField, string>> {
  return Object.fromEntries(
    Object.entries(NAMES).flatMap(([field, names]) => {
      const value = names.map((name) => tags[name]?.trim()).find(Boolean);
      return value ? [[field, value]] : [];
    }),
  );
}

/** Tag names (docs/rules.md 9.2) that this version fills in; one meaning each, whatever the container calls it. */
export const TAG_NAMES = [
  'TITLE',
  'ARTIST',
  'ALBUM',
  'ALBUMARTIST',
  'TRACKNUMBER',
  'TRACKTOTAL',
  'DISCNUMBER',
  'DISCTOTAL',
  'DATE',
  'GENRE',
  'COMPOSER',
  'LYRICIST',
  'ARRANGER',
  'ISRC',
  'BARCODE',
  'LABEL',
  'PUBLISHER',
  'CATALOGNUMBER',
  'COPYRIGHT',
  'PHONOGRAM',
  'LANGUAGE',
  'ADVISORY',
  'COMMENT',
  'BPM',
] as const;
export type TagName = (typeof TAG_NAMES)[number];
/** Values by name, a person’s own tags among them; a tag that is empty is left out. */
export type TagSet = Readonly<Record<string, string>>;

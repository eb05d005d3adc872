import type { Album } from '../album/album.js';

/** Tag names of trade.md section 9 that this version fills in; one meaning each, whatever the container calls it. */
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
  'LANGUAGE',
  'ADVISORY',
  'COMMENT',
] as const;
export type TagName = (typeof TAG_NAMES)[number];
/** Values by name, a person’s own tags among them; a tag that is empty is left out. */
export type TagSet = Readonly<Record<string, string>>;

/** The tags of the album as one file: what its tracks do not share is left out. */
export function albumTags(album: Album, codes: { upc: string }): TagSet {
  const all: Partial<Record<TagName, string>> = {
    TITLE: album.title,
    ARTIST: album.performer,
    ALBUM: album.title,
    ALBUMARTIST: album.performer,
    DISCNUMBER: String(album.discNumber),
    DISCTOTAL: String(album.discTotal),
    ...sharedTags(album, codes.upc),
    COMPOSER: album.composer,
    ARRANGER: album.arranger,
    LANGUAGE: album.language,
    COMMENT: album.comment,
  };
  return filled({ ...all, ...album.tags });
}

/** What every file of the album says alike. */
const sharedTags = (album: Album, upc: string) => ({
  DATE: album.releaseDate,
  GENRE: album.genre,
  BARCODE: upc,
  LABEL: album.label,
  CATALOGNUMBER: album.catalogNumber,
  COPYRIGHT: album.copyright,
});

const filled = (tags: TagSet): TagSet =>
  Object.fromEntries(Object.entries(tags).filter(([, value]) => value !== ''));

/**
 * The tags of one track. A performer or writer left empty is the album's, a title is not inherited. Own tags of the track
 * go before those of the album, and both before what is filled in here.
 * @param index the track's place, from 0
 */
export function trackTags(album: Album, index: number, codes: { isrc: string; upc: string }): TagSet {
  const track = album.tracks[index];
  if (!track) throw new RangeError(`The album has no track ${index + 1}.`);
  const all: Record<TagName, string> = {
    TITLE: track.title,
    ARTIST: track.performer || album.performer,
    ALBUM: album.title,
    ALBUMARTIST: album.performer,
    TRACKNUMBER: String(index + 1),
    TRACKTOTAL: String(album.tracks.length),
    DISCNUMBER: String(album.discNumber),
    DISCTOTAL: String(album.discTotal),
    ...sharedTags(album, codes.upc),
    COMPOSER: track.composer || album.composer,
    LYRICIST: track.lyricist,
    ARRANGER: track.arranger || album.arranger,
    ISRC: codes.isrc,
    PUBLISHER: track.publisher,
    LANGUAGE: track.language || album.language,
    ADVISORY: track.advisory,
    COMMENT: track.comment || album.comment,
  };
  const tags: TagSet = { ...all, ...album.tags, ...track.tags };
  return filled(tags);
}

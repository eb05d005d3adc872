import { type Album, trackNumber, type PartSongs, type Song } from '@oiseau/album/model';
import type { TagName, TagSet } from '@oiseau/codings';

/** What tags need of a disc or side. */
export type PartTags = Pick<PartSongs, 'tracks' | 'discNumber' | 'discTotal' | 'title'>;

/** The tags of a part of the album as one file: what its tracks do not share is left out. */
export function partTags(album: Album, part: PartTags, codes: { upc: string }): TagSet {
  const all: Partial<Record<TagName, string>> = {
    TITLE: part.title,
    ARTIST: album.performer,
    ALBUM: album.title,
    ALBUMARTIST: album.performer,
    DISCNUMBER: String(part.discNumber),
    DISCTOTAL: String(part.discTotal),
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
  PHONOGRAM: album.phonogram,
});

const filled = (tags: TagSet): TagSet =>
  Object.fromEntries(Object.entries(tags).filter(([, value]) => value !== ''));

/**
 * The tags of one track. A performer or writer left empty is the album's, a title is not inherited. Own tags of the track
 * go before those of the album, and both before what is filled in here.
 * @param part the disc or side that the track is on
 * @param codes with `tempo`, whether the tempo is told where it is known
 */
export function trackTags(
  album: Album,
  part: PartTags,
  track: Song,
  { isrc, upc, tempo = false }: { isrc: string; upc: string; tempo?: boolean },
): TagSet {
  const all: Record<TagName, string> = {
    TITLE: track.title,
    ARTIST: track.performer || album.performer,
    ALBUM: album.title,
    ALBUMARTIST: album.performer,
    TRACKNUMBER: String(trackNumber(part, track.id) ?? ''),
    TRACKTOTAL: String(part.tracks.length),
    DISCNUMBER: String(part.discNumber),
    DISCTOTAL: String(part.discTotal),
    ...sharedTags(album, upc),
    COMPOSER: track.composer || album.composer,
    LYRICIST: track.lyricist,
    ARRANGER: track.arranger || album.arranger,
    ISRC: isrc,
    PUBLISHER: track.publisher,
    LANGUAGE: track.language || album.language,
    ADVISORY: track.advisory,
    COMMENT: track.comment || album.comment,
    // Whole beats: the frames and atoms that hold a tempo take no other.
    BPM: tempo && track.marks.tempo ? String(Math.round(track.marks.tempo.bpm)) : '',
  };
  const tags: TagSet = { ...all, ...album.tags, ...track.tags };
  return filled(tags);
}

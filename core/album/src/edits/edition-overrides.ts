import { STAGE_NAMES } from '@oiseau/audio/stages';
import { songOf, type Album } from '../model/album.js';
import { albumOfEdition } from '../model/album-of-edition.js';
import type { Edition, EditionTrack } from '../model/edition.js';

/** Fields of a track that an edition may have of its own. */
type EditionTrackField = keyof EditionTrack;
/** Fields of the album that an edition may have of its own. */
type EditionAlbumField = Exclude<keyof Edition, 'name' | 'draft' | 'tracks'>;

/** A field that an edition has of its own. */
export type EditionDifference =
  | { readonly song: null; readonly field: EditionAlbumField }
  | { readonly song: string; readonly field: EditionTrackField };

const ALBUM_FIELDS = [
  'order',
  'parts',
  'sound',
  'title',
  'upc',
  'catalogNumber',
  'releaseDate',
] as const satisfies readonly EditionAlbumField[];

const isOwnField = (edition: Edition, field: EditionAlbumField): boolean => {
  if (field === 'sound') return Object.keys(edition.sound).length > 0;
  return edition[field] !== null && edition[field] !== '';
};

/** Everything that an edition has of its own: the album's fields first, then those of its tracks in its order. */
export function editionDifferences(album: Album, edition: Edition): EditionDifference[] {
  const ofTracks = albumOfEdition(album, edition).songs.flatMap(({ id }) =>
    Object.keys(edition.tracks[id] ?? {}).map((field) => ({ song: id, field: field as EditionTrackField })),
  );
  return [
    ...ALBUM_FIELDS.filter((field) => isOwnField(edition, field)).map((field) => ({
      ...{ song: null, field },
    })),
    ...ofTracks,
  ];
}

const withEdition = (album: Album, name: string, change: (edition: Edition) => Edition): Album => ({
  ...album,
  editions: album.editions.map((each) => (each.name === name ? change(each) : each)),
});

const NEUTRAL = {
  ...{ order: null, parts: null, sound: {} },
  ...{ title: '', upc: '', catalogNumber: '', releaseDate: '' },
} as const satisfies Pick<Edition, EditionAlbumField>;

/** Lets an edition have the album's value of a field again. */
export function removeOverride(album: Album, name: string, { song, field }: EditionDifference): Album {
  return withEdition(album, name, (edition) => {
    // Parts begin at tracks of the edition’s own order.
    if (song === null)
      return { ...edition, [field]: NEUTRAL[field], ...(field === 'order' && { parts: NEUTRAL.parts }) };
    const { [field]: _albums, ...own } = edition.tracks[song] ?? {};
    const { [song]: _all, ...others } = edition.tracks;
    return { ...edition, tracks: Object.keys(own).length === 0 ? others : { ...others, [song]: own } };
  });
}

/**
 * Gives an edition a value of its own, the one that it has now: from then on an edit of the field stays in the edition.
 * An empty text stands for the album's and
 * can't be kept.
 * @returns the album itself where there is no such edition, or the track is not on it
 */
export function addOverride(album: Album, name: string, { song, field }: EditionDifference): Album {
  const edition = album.editions.find((each) => each.name === name);
  if (!edition) return album;
  const now = albumOfEdition(album, edition);
  if (song === null)
    return withEdition(album, name, (each) => ({ ...each, [field]: albumValue(now, field) }));
  const track = songOf(now, song);
  if (!track) return album;
  const own = { ...edition.tracks[song], [field]: trackValue(track, field) };
  return withEdition(album, name, (each) => ({ ...each, tracks: { ...each.tracks, [song]: own } }));
}

function albumValue(now: Album, field: EditionAlbumField): Edition[EditionAlbumField] {
  if (field === 'order') return now.songs.map(({ id }) => id);
  return now[field];
}

function trackValue(
  { region, marks, isrc, title }: Album['songs'][number],
  field: EditionTrackField,
): EditionTrack[EditionTrackField] {
  switch (field) {
    case 'isrc':
      return isrc;
    case 'title':
      return title;
    case 'indexes':
      return marks.indexes;
    case 'sound':
      return Object.fromEntries(STAGE_NAMES.map((stage) => [stage, region.sound[stage]]));
    default:
      return region[field];
  }
}

import { msg } from '@oiseau/messages';
import { Failure } from '@oiseau/audio/errors';
import { withStages } from '@oiseau/audio/stages';
import type { Ticks } from '@oiseau/audio/time';
import { songOf, type Album } from './album.js';
import type { Deliverable } from './deliverable.js';
import type { Edition, EditionTrack } from './edition.js';
import { partsOf, type AlbumOfParts } from './parts.js';
import { DEFAULT_GAP, type Song } from './song.js';

/** A deliverable of an edition that is gone. */
export class EditionMissing extends Failure {
  override readonly name = 'EditionMissing';
  readonly code = 'edition-missing';
  readonly status = 422;
}

/** What is known of a song from its neighbours: its predecessor in its part, and whether it opens a disc. */
interface Neighbour {
  readonly before: string | null;
  readonly opensDisc: boolean;
}

const neighboursIn = (album: AlbumOfParts): ReadonlyMap<string, Neighbour> =>
  new Map(
    partsOf(album).flatMap(({ kind, songs }) =>
      songs.map(({ id }, i) => [
        id,
        { before: songs[i - 1]?.id ?? null, opensDisc: i === 0 && kind === 'disc' },
      ]),
    ),
  );

/** Songs, parts and text of an edition, with the gaps of the album's own order. */
function skeletonOf(album: Album, edition: Edition): Album {
  const { order, sound, title, upc, catalogNumber, releaseDate } = edition;
  return {
    ...album,
    songs: order === null ? album.songs : order.flatMap((id) => songOf(album, id) ?? []),
    parts: edition.parts ?? (order === null ? album.parts : []),
    sound: withStages(album.sound, sound),
    title: title || album.title,
    upc: upc || album.upc,
    catalogNumber: catalogNumber || album.catalogNumber,
    releaseDate: releaseDate || album.releaseDate,
    editions: [],
    deliverables: album.deliverables
      .filter((deliverable) => editionNameOf(album, deliverable) === edition.name)
      .map(({ edition: _edition, ...deliverable }) => deliverable as Deliverable),
  };
}

/** The gap of a song that an edition says nothing of: a gap belongs to a pair of neighbours. */
function inheritedGap({ region }: Song, here: Neighbour, there: Neighbour | undefined): Ticks {
  if (here.opensDisc && !there?.opensDisc) return DEFAULT_GAP;
  return region.gapBefore < 0 && here.before !== there?.before ? DEFAULT_GAP : region.gapBefore;
}

/**
 * An edition as an album of its own: its songs in their order with what it says of them, its parts, text and deliverables.
 * Whatever is computed of an album is computed of this one for an edition.
 */
export function albumOfEdition(album: Album, edition: Edition): Album {
  const skeleton = skeletonOf(album, edition);
  const here = neighboursIn(skeleton);
  const there = neighboursIn(album);
  const songs = skeleton.songs.map((song): Song => {
    const own = edition.tracks[song.id] ?? {};
    const gap = inheritedGap(song, here.get(song.id) ?? NO_NEIGHBOUR, there.get(song.id));
    return withOverrides({ ...song, region: { ...song.region, gapBefore: gap } }, own);
  });
  return { ...skeleton, songs };
}

const NO_NEIGHBOUR: Neighbour = { before: null, opensDisc: false };

function withOverrides(song: Song, own: EditionTrack): Song {
  const { region, marks } = song;
  return {
    ...song,
    title: own.title ?? song.title,
    isrc: own.isrc ?? song.isrc,
    marks: { ...marks, indexes: own.indexes ?? marks.indexes },
    region: {
      ...region,
      in: own.in ?? region.in,
      out: own.out === undefined ? region.out : own.out,
      gapBefore: own.gapBefore ?? region.gapBefore,
      gainDb: own.gainDb ?? region.gainDb,
      fadeIn: own.fadeIn ?? region.fadeIn,
      fadeOut: own.fadeOut ?? region.fadeOut,
      sound: withStages(region.sound, own.sound ?? {}),
    },
  };
}

/** Ids of songs whose overlap with the album's previous track doesn't travel to a new pair: they follow after 2 s. */
export function lostOverlaps(album: Album, edition: Edition): string[] {
  const skeleton = skeletonOf(album, edition);
  const here = neighboursIn(skeleton);
  const there = neighboursIn(album);
  return skeleton.songs
    .filter(({ id, region }) => {
      const isNewPair = here.get(id)?.before !== there.get(id)?.before;
      return isNewPair && region.gapBefore < 0 && !hasOwnGap(edition, id);
    })
    .map(({ id }) => id);
}

/**
 * Ids of songs that an edition gives another predecessor on their part than the album does, and whose gap it doesn't set: a gap that
 * was neither chosen nor heard.
 */
export function newNeighbours(album: Album, edition: Edition): string[] {
  const skeleton = skeletonOf(album, edition);
  const here = neighboursIn(skeleton);
  const there = neighboursIn(album);
  return skeleton.songs
    .filter(({ id }) => {
      const before = here.get(id)?.before ?? null;
      return before !== null && before !== there.get(id)?.before && !hasOwnGap(edition, id);
    })
    .map(({ id }) => id);
}

const hasOwnGap = ({ tracks }: Edition, id: string): boolean => tracks[id]?.gapBefore !== undefined;

/** The name of the edition that a deliverable belongs to, the first where it names none; empty: the album has no editions. */
export const editionNameOf = ({ editions }: Album, { edition }: Deliverable): string =>
  edition ?? editions[0]?.name ?? '';

/** Whether a deliverable belongs to a draft edition. */
export const isOfDraft = (album: Album, deliverable: Deliverable): boolean =>
  album.editions.some(({ name, draft }) => draft && name === editionNameOf(album, deliverable));

/** An album without its draft editions and what was to be rendered of them: as readers see it who don't work on it. */
export const withoutDrafts = (album: Album): Album => ({
  ...album,
  editions: album.editions.filter(({ draft }) => !draft),
  deliverables: album.deliverables.filter((each) => !isOfDraft(album, each)),
});

/**
 * What a deliverable is made of.
 * @returns the album of its edition, or the album itself where it has no editions; and the edition's name, then empty
 * @throws EditionMissing where its edition is gone
 */
export function albumOfDeliverable(
  album: Album,
  deliverable: Deliverable,
): { readonly album: Album; readonly edition: string } {
  const name = editionNameOf(album, deliverable);
  if (name === '') return { album, edition: '' };
  const edition = album.editions.find((each) => each.name === name);
  if (!edition)
    throw new EditionMissing(
      msg('“{deliverable}” is for edition “{edition}”, which doesn’t exist.', {
        ...{ deliverable: deliverable.name, edition: name },
      }),
    );
  return { album: albumOfEdition(album, edition), edition: name };
}

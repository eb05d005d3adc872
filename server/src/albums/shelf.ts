import { ceilToFrame, layOutAlbum, tracksOf, type Album } from '@oiseau/core';
import type { ShelfEntry } from '@oiseau/api';
import type { MasterRecord } from '../masters/master-repository.js';
import type { ListedAlbum } from './album-repository.js';

/** One album as the Shelf shows it. */
export function shelfEntry(
  record: ListedAlbum,
  masters: readonly MasterRecord[],
): Omit<ShelfEntry, 'updatedAt'> & { readonly updatedAt: Date } {
  const { id, album, updatedAt } = record;
  if (!album)
    return { id, title: '', performer: '', artwork: null, tracks: 0, frames: 0, updatedAt, damaged: true };
  return {
    id,
    title: album.title,
    performer: album.performer,
    artwork: album.artwork,
    tracks: tracksOf(album).length,
    frames: album.songs.length > 0 ? playingFrames(album, masters) : 0,
    updatedAt,
    damaged: false,
  };
}

const playingFrames = (album: Album, masters: readonly MasterRecord[]): number =>
  layOutAlbum(album, factsOf(masters)).reduce(
    (sum, { disc, placement }) => sum + (disc?.leadOut ?? ceilToFrame(placement.end)),
    0,
  );

/** What the core needs of masters to lay an album out, by SHA-256. */
export function factsOf(masters: readonly MasterRecord[]): Map<string, MasterRecord['info']> {
  return new Map(masters.map(({ sha256, info }) => [sha256, info]));
}

/** Every master that an album plays, once. */
export const playedMasters = ({ songs }: Pick<Album, 'songs'>): string[] => [
  ...new Set(songs.map(({ region }) => region.master)),
];

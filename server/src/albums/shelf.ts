import { ceilToFrame, layOutAlbum, tracksOf, type Album } from '@oiseau/core';
import type { ShelfEntry } from '@oiseau/api';
import type { MasterRecord } from '../masters/master-repository.js';
import type { AlbumRecord } from './album-repository.js';

/** One album as the Shelf shows it. */
export function shelfEntry(
  record: AlbumRecord,
  masters: readonly MasterRecord[],
): Omit<ShelfEntry, 'updatedAt'> & { readonly updatedAt: Date } {
  const { album } = record;
  return {
    id: record.id,
    title: album.title,
    performer: album.performer,
    artwork: album.artwork,
    tracks: tracksOf(album).length,
    frames: album.songs.length > 0 ? playingFrames(album, masters) : 0,
    updatedAt: record.updatedAt,
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

import { ceilToFrame, layOutAlbum, tracksOf, type Album } from '@oiseau/core';
import type { MasterRecord } from '../masters/master-repository.js';
import type { AlbumRecord } from './album-repository.js';

/** One album on the Shelf. */
export interface ShelfEntry {
  readonly id: string;
  readonly title: string;
  readonly performer: string;
  readonly artwork: string | null;
  readonly tracks: number;
  /** How long it is in CD frames: the lead-outs of its discs and the lengths of its sides; 0 for an album without tracks. */
  readonly frames: number;
  readonly updatedAt: Date;
}

export function shelfEntry(record: AlbumRecord, masters: readonly MasterRecord[]): ShelfEntry {
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

import { layOutAlbum, sounding, type Album } from '@oiseau/core';
import type { AlbumMaster, MasterRecord } from '../masters/master-repository.js';
import type { AlbumRecord } from './album-repository.js';

/** One album on the Shelf. */
export interface ShelfEntry {
  readonly id: string;
  readonly title: string;
  readonly performer: string;
  readonly artwork: string | null;
  readonly tracks: number;
  /** Absolute end of the disc in CD frames; 0 for an album without tracks. */
  readonly leadOut: number;
  readonly updatedAt: Date;
}

export function shelfEntry(record: AlbumRecord, masters: readonly MasterRecord[]): ShelfEntry {
  const { album } = record;
  return {
    id: record.id,
    title: album.title,
    performer: album.performer,
    artwork: album.artwork,
    tracks: album.tracks.length,
    leadOut: album.tracks.length > 0 ? layOutAlbum(album, factsOf(masters)).layout.leadOut : 0,
    updatedAt: record.updatedAt,
  };
}

/** What the core needs of masters to lay an album out, by SHA-256. */
export function factsOf(masters: readonly MasterRecord[]): Map<string, MasterRecord['info']> {
  return new Map(masters.map(({ sha256, info }) => [sha256, info]));
}

/** Masters that tracks use but the album does not have: such an album can't be saved. */
export function unknownMasters(album: Album, masters: readonly AlbumMaster[]): string[] {
  const known = new Set(masters.map(({ sha256 }) => sha256));
  return [...new Set(sounding(album).map(({ master }) => master))].filter((sha256) => !known.has(sha256));
}

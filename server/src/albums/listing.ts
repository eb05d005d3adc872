import { ceilToFrame } from '@oiseau/audio/time';
import { layOutAlbum } from '@oiseau/album/layout';
import { mastersPlayed, tracksOf, type Album, type MasterFactsByKey } from '@oiseau/album/model';
import { parseIsrc } from '@oiseau/formats/disc';
import type { Listing } from '../http/compute-pool.js';
import { readableDocument } from './album-repository.js';

const DAMAGED: Listing = {
  ...{ title: '', performer: '', artwork: null, tracks: 0, frames: 0, damaged: true },
  ...{ isrcs: [], unknownMasters: [] },
};

/** Derives the columns of an album from its stored document. Never throws: whatever the document says, the other albums are listed. */
export function listingOf(document: string, masters: MasterFactsByKey): Listing {
  const album = readableDocument(document);
  if (!album) return DAMAGED;
  return {
    title: album.title,
    performer: album.performer,
    artwork: album.artwork,
    tracks: tracksOf(album).length,
    frames: playingFrames(album, masters),
    damaged: false,
    isrcs: album.songs.flatMap(({ isrc }) => parseIsrc(isrc) ?? []),
    unknownMasters: mastersPlayed(album).filter((key) => !masters.has(key)),
  };
}

function playingFrames(album: Album, masters: MasterFactsByKey): number {
  if (album.songs.length === 0) return 0;
  try {
    const frames = layOutAlbum(album, masters).reduce(
      (sum, { disc, placement }) => sum + (disc?.leadOut ?? ceilToFrame(placement.end)),
      0,
    );
    // Regions and gaps that break the rules can add up to less than nothing.
    return Number.isSafeInteger(frames) ? Math.max(0, frames) : 0;
  } catch {
    return 0;
  }
}

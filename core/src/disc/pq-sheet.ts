import type { Album } from '../album/album.js';
import type { Layout } from '../album/sequence.js';
import { frames } from '../time/frames.js';
import type { Frames } from '../time/ticks.js';
import { parseEan } from './ean.js';
import { formatIsrc, parseIsrc } from './isrc.js';

/** A track as people at a plant read it. All times in CD frames, absolute ones from the start of the first pause. */
export interface PqTrack {
  readonly number: number;
  readonly title: string;
  readonly performer: string;
  /** With hyphens; empty when there is none. */
  readonly isrc: string;
  /** Index 00; null where there is no pause. For track 1 the disc's start. */
  readonly pause: Frames | null;
  /** From the pause to the start mark. */
  readonly pauseLength: Frames;
  /** Index 01. */
  readonly start: Frames;
  /** From the start mark to the next pause, start mark or lead-out. */
  readonly length: Frames;
  /** Index 02 and up. */
  readonly indexes: readonly Frames[];
  readonly copyPermitted: boolean;
  readonly preEmphasis: boolean;
}

/** Everything on a PQ sheet: the marks of a disc, for people. */
export interface PqSheet {
  readonly title: string;
  readonly performer: string;
  readonly label: string;
  readonly catalogNumber: string;
  /** 13 digits; empty when there is none. */
  readonly upc: string;
  readonly disc: string;
  readonly tracks: readonly PqTrack[];
  readonly leadOut: Frames;
  /** From the start mark of track 1 to the lead-out: what a player counts. */
  readonly playing: Frames;
}

export function pqSheet(album: Album, layout: Layout): PqSheet {
  const tracks = album.tracks.flatMap((track, i): PqTrack[] => {
    const placed = layout.tracks[i];
    if (!placed) return [];
    const next = layout.tracks[i + 1];
    const end = next ? (next.pause ?? next.startMark) : layout.leadOut;
    const pause = i === 0 ? frames(0) : placed.pause;
    const isrc = parseIsrc(track.isrc);
    return [
      {
        number: i + 1,
        title: track.title,
        performer: track.performer || album.performer,
        isrc: isrc ? formatIsrc(isrc) : '',
        pause,
        pauseLength: frames(pause === null ? 0 : placed.startMark - pause),
        start: placed.startMark,
        length: frames(end - placed.startMark),
        indexes: placed.indexes,
        copyPermitted: track.copyPermitted,
        preEmphasis: track.preEmphasis,
      },
    ];
  });
  return {
    title: album.title,
    performer: album.performer,
    label: album.label,
    catalogNumber: album.catalogNumber,
    upc: parseEan(album.upc) ?? '',
    disc: album.discTotal > 1 ? `${album.discNumber} of ${album.discTotal}` : '',
    tracks,
    leadOut: layout.leadOut,
    playing: frames(layout.leadOut - (layout.tracks[0]?.startMark ?? layout.leadOut)),
  };
}

/** The flags of a track in words; empty when there are none. */
export const flagWords = ({ copyPermitted, preEmphasis }: PqTrack): string =>
  [copyPermitted ? 'copy' : '', preEmphasis ? 'pre-emphasis' : ''].filter(Boolean).join(', ');

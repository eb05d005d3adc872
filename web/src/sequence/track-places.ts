import type { Part } from '@oiseau/album/layout';

/** The place of a track: its part, from 1, and its place there among the tracks, from 0. */
export interface TrackPlace {
  readonly part: number;
  readonly to: number;
}

/** What the heading of a part is called among the rows; no song has such an id. */
export const headingId = ({ number }: Pick<Part, 'number'>): string => `part:${number}`;

export function placeOfTrack(parts: readonly Part[], id: string): TrackPlace | null {
  for (const { number, tracks } of parts) {
    const to = tracks.findIndex((track) => track.id === id);
    if (to >= 0) return { part: number, to };
  }
  return null;
}

/**
 * Where a track goes that is dropped on a row: in its place, as the rows then make room. On a heading it goes over the border, to the end of the
 * part before when it comes from below, to the front of the part when it comes from above.
 */
export function droppedAt(parts: readonly Part[], dragged: string, over: string): TrackPlace | null {
  const from = placeOfTrack(parts, dragged);
  if (!from) return null;
  const heading = parts.find((part) => headingId(part) === over);
  if (heading) {
    const { number } = heading;
    if (from.part < number || number === 1) return { part: number, to: 0 };
    const before = parts[number - 2];
    return before ? { part: number - 1, to: before.tracks.length } : null;
  }
  const to = placeOfTrack(parts, over);
  // Coming from a part before, it passes the row on which it is dropped.
  return to && from.part < to.part ? { ...to, to: to.to + 1 } : to;
}

/** The place one up or down from a track, over the border of its part where it stands at that end; null where there is none. */
export function placeBeside(parts: readonly Part[], id: string, by: -1 | 1): TrackPlace | null {
  const from = placeOfTrack(parts, id);
  const own = from && parts[from.part - 1];
  if (!own) return null;
  const to = from.to + by;
  if (to >= 0 && to < own.tracks.length) return { part: from.part, to };
  const next = parts[from.part - 1 + by];
  return next ? { part: next.number, to: by < 0 ? next.tracks.length : 0 } : null;
}

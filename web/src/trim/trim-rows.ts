import {
  suggestTrim,
  ticks,
  type Album,
  type Region,
  type Sequence,
  type Silhouette,
  type Ticks,
  type TrimSettings,
} from '@oiseau/core';

/** What could be trimmed of one track. */
export interface TrimRow {
  /** Place in the album, from 0. */
  readonly index: number;
  readonly id: string;
  readonly title: string;
  readonly master: string;
  readonly now: Region;
  /** null: nothing in it is as loud as the threshold. */
  readonly suggested: Region | null;
  /** What would go from the head and from the tail; 0 or more. */
  readonly headCut: Ticks;
  readonly tailCut: Ticks;
}

/** A suggestion for each track whose master is measured. */
export function trimRows(
  album: Album,
  sequence: Sequence,
  outlines: ReadonlyMap<string, Silhouette>,
  settings: TrimSettings,
): TrimRow[] {
  return album.tracks.flatMap((track, index): TrimRow[] => {
    const outline = outlines.get(track.master);
    const placed = sequence.tracks[index];
    if (!outline || !placed) return [];
    const now = { in: placed.in, out: placed.out };
    const suggested = suggestTrim(outline, now, settings);
    return [
      {
        index,
        id: track.id,
        title: track.title,
        master: track.master,
        now,
        suggested,
        headCut: ticks(suggested ? suggested.in - now.in : 0),
        tailCut: ticks(suggested ? now.out - suggested.out : 0),
      },
    ];
  });
}

/** Whether a suggestion would change anything that can be heard or seen. */
export const hasNews = ({ headCut, tailCut }: TrimRow): boolean => headCut > 0 || tailCut > 0;

/** The album with the suggested regions of some tracks; fades and everything else stay. */
export function applyTrims(album: Album, rows: readonly TrimRow[]): Album {
  const regions = new Map(rows.map(({ id, suggested }) => [id, suggested]));
  return {
    ...album,
    tracks: album.tracks.map((track) => ({ ...track, ...(regions.get(track.id) ?? {}) })),
  };
}

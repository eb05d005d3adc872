import { editRegion } from '@oiseau/album/edits';
import { suggestTrim, type TrimSettings } from '@oiseau/formats/cutting';
import { ticks, type Interval, type Ticks } from '@oiseau/audio/time';
import { trackNumber, type Album } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import type { Silhouette } from '@oiseau/audio/measure';

/** What could be trimmed of one song. */
export interface TrimRow {
  readonly id: string;
  /** Its number in its part; null: the hidden song. */
  readonly number: number | null;
  readonly title: string;
  readonly master: string;
  readonly now: Interval<Ticks>;
  /** null: nothing in it is as loud as the threshold. */
  readonly suggested: Interval<Ticks> | null;
  /** What would go from the head and from the tail; 0 or more. */
  readonly headCut: Ticks;
  readonly tailCut: Ticks;
}

/** A suggestion for each song whose master is measured. */
export function trimRows(
  part: Part,
  outlines: ReadonlyMap<string, Silhouette>,
  settings: TrimSettings,
): TrimRow[] {
  return part.sequence.songs.flatMap(({ id, region }, i): TrimRow[] => {
    const outline = outlines.get(region.master);
    if (!outline) return [];
    const now = { start: region.in, end: region.out };
    const suggested = suggestTrim(outline, now, settings);
    return [
      {
        id,
        number: trackNumber(part, id),
        title: part.songs[i]?.title ?? '',
        master: region.master,
        now,
        suggested,
        headCut: ticks(suggested ? suggested.start - now.start : 0),
        tailCut: ticks(suggested ? now.end - suggested.end : 0),
      },
    ];
  });
}

/** Whether a suggestion would change anything that can be heard or seen. */
export const hasNews = ({ headCut, tailCut }: TrimRow): boolean => headCut > 0 || tailCut > 0;

/** The album with the suggested regions of some songs; fades and everything else stay. */
export const applyTrims = (album: Album, rows: readonly TrimRow[]): Album =>
  rows.reduce(
    (trimmed, { id, suggested }) =>
      suggested ? editRegion(trimmed, id, { in: suggested.start, out: suggested.end }) : trimmed,
    album,
  );

import { type Interval, ticks, type Ticks } from '@oiseau/audio/time';
import type { Sequence } from '../model/sequence.js';

/** Where audio lies in a part, in time from its absolute zero: of a disc the start of the first pause, of a side its first audio. */
export interface Placement {
  /** By the id of the song, in the order of the part. */
  readonly songs: ReadonlyMap<string, Interval<Ticks>>;
  /** End of the last audio and the end pause: where continuous files end. */
  readonly end: Ticks;
}

/**
 * Places a sequence: each song begins `gapBefore` after the end of the one before it (docs/rules.md 3).
 *
 *     | first gap | song 1 ~~~~~~ | gap | song 2 ~~~ |end pause|
 *     0           start           end                          end
 */
export function place({ songs, endPause }: Sequence): Placement {
  const placed = new Map<string, Interval<Ticks>>();
  let cursor = ticks(0);
  for (const { id, region } of songs) {
    const start = ticks(cursor + region.gapBefore);
    cursor = ticks(start + region.out - region.in);
    placed.set(id, { start, end: cursor });
  }
  return { songs: placed, end: ticks(cursor + endPause) };
}

/** The song that sounds at a time; the later one where two overlap; null in a pause. */
export function songAt({ songs }: Placement, time: Ticks): string | null {
  let found: string | null = null;
  for (const [id, { start, end }] of songs) if (start <= time && time < end) found = id;
  return found;
}

import { type Interval, ticks, type Ticks } from '@oiseau/audio/time';
import type { Placement } from './placement.js';

/**
 * What is heard of a transition: so much before the first thing that happens in it and so much after the last, but never more than
 * the two songs themselves.
 *
 *     |~~~ song before ~~~|   gap   |~~~ song ~~~
 *                     [ around            around ]
 *
 * @param id of the song that begins
 */
export function transitionSpan({ songs, end }: Placement, id: string, around: Ticks): Interval<Ticks> | null {
  const song = songs.get(id);
  if (!song) return null;
  const ids = [...songs.keys()];
  const before = songs.get(ids[ids.indexOf(id) - 1] ?? '');
  const begins = before ? Math.min(before.end, song.start) : song.start;
  const settled = before ? Math.max(before.end, song.start) : song.start;
  return {
    start: ticks(Math.max(before?.start ?? 0, begins - around)),
    end: ticks(Math.min(end, Math.max(song.end, settled), settled + around)),
  };
}

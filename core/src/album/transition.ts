import { ticks, type Ticks } from '../time/ticks.js';
import type { Layout } from './sequence.js';

/** A stretch of the disc, absolute times. */
export interface Stretch {
  readonly from: Ticks;
  readonly until: Ticks;
}

/**
 * What is heard of a transition: so much before the first thing that happens in it and so much after the last, but never more than
 * the two tracks themselves.
 *
 *     |~~~ track before ~~~|   gap   |~~~ track ~~~
 *                     [ around            around ]
 *
 * @param index of the track that begins; 0 is the start of the disc
 */
export function transitionSpan(
  { hidden, tracks, end }: Layout,
  index: number,
  around: Ticks,
): Stretch | null {
  const track = tracks[index];
  if (!track) return null;
  const before = index === 0 ? hidden : tracks[index - 1];
  const begins = before ? Math.min(before.audioEnd, track.audioStart) : track.audioStart;
  const settled = before ? Math.max(before.audioEnd, track.audioStart) : track.audioStart;
  return {
    from: ticks(Math.max(before?.audioStart ?? 0, begins - around)),
    until: ticks(Math.min(end, Math.max(track.audioEnd, settled), settled + around)),
  };
}

import type { Layout, Ticks } from '@oiseau/core';

/** Index of the track that sounds at a time; the later one where two overlap; null in a pause. */
export function trackAt(layout: Layout, time: Ticks): number | null {
  const found = layout.tracks.findLastIndex(
    ({ audioStart, audioEnd }) => audioStart <= time && time < audioEnd,
  );
  return found < 0 ? null : found;
}

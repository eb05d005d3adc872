import type { Layout, Ticks } from '@oiseau/core';

/** Index of the track that sounds at a time, −1 for the hidden song; the later one where two overlap; null in a pause. */
export function trackAt(layout: Layout, time: Ticks): number | null {
  const found = layout.tracks.findLastIndex(
    ({ audioStart, audioEnd }) => audioStart <= time && time < audioEnd,
  );
  if (found >= 0) return found;
  const { hidden } = layout;
  return hidden && hidden.audioStart <= time && time < hidden.audioEnd ? -1 : null;
}

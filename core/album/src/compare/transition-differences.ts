import type { Part } from '../layout/part.js';
import type { Song } from '../model/song.js';

/** A transition: the track that begins, the one before it on its part, and where. */
export interface Transition {
  /** null: the track opens its part. */
  readonly before: Song | null;
  readonly after: Song;
  /** From 1. */
  readonly part: number;
}

/** All transitions of a running order, in its order. */
const transitionsOf = (parts: readonly Part[]): Transition[] =>
  parts.flatMap(({ songs, number }) =>
    songs.map((after, i) => ({ before: songs[i - 1] ?? null, after, part: number })),
  );

/** Two transitions with the same key sound alike, but for treatments. */
const keyOf = ({ before, after }: Transition): string => {
  const { in: start, gapBefore, fadeIn, gainDb } = after.region;
  const end = before && [before.id, before.region.out, before.region.fadeOut, before.region.gainDb];
  return JSON.stringify([end, after.id, start, gapBefore, fadeIn, gainDb]);
};

/** The transitions between two tracks in a running order that another order doesn’t have, or has with another gap, fade, trim or gain. */
export function differingTransitions(parts: readonly Part[], other: readonly Part[]): Transition[] {
  const known = new Set(transitionsOf(other).map(keyOf));
  return transitionsOf(parts).filter((each) => each.before !== null && !known.has(keyOf(each)));
}

import {
  ceilToFrame,
  FIRST_PAUSE_FRAMES,
  floorToFrame,
  frames,
  framesToTicks,
  ticks,
  type Frames,
} from '@oiseau/audio/time';
import type { Placement } from './placement.js';
import type { Sequence } from '../model/sequence.js';

/** Where a disc marks a track, in absolute frames. */
export interface TrackMarks {
  /** From 1. */
  readonly number: number;
  /** Index 01. */
  readonly start: Frames;
  /** Index 00, where there is a pause before the start mark; always null for track 1. */
  readonly pause: Frames | null;
  /** Index 02 and up. */
  readonly indexes: readonly Frames[];
}

/** The marks of one disc. */
export interface DiscMarks {
  /** By the id of the song, in order; a hidden song has none. */
  readonly tracks: ReadonlyMap<string, TrackMarks>;
  /** Where an image ends. */
  readonly leadOut: Frames;
}

/**
 * Marks a disc (docs/rules.md 3).
 *
 *     |first pause| track 1     |gap| track 2 ...
 *     0           start         end
 *               ^ start mark     ^ pause (index 00)
 *                                 ^ start mark, up to markLead before the audio, on a frame
 *
 * A hidden song stands in the first pause:
 *
 *     |  gap  | hidden ~~~|gap| track 1
 *     0                      ^ start mark
 */
export function markDisc(sequence: Sequence, placement: Placement): DiscMarks {
  const tracks = new Map<string, TrackMarks>();
  let cursor = ticks(0);
  let before: TrackMarks | undefined;
  for (const { id, numbered, marks } of sequence.songs) {
    const placed = placement.songs.get(id);
    if (!placed) continue;
    if (numbered) {
      const wished = floorToFrame(ticks(placed.start - (marks.markLead ?? sequence.markLead)));
      const start = !before && wished < FIRST_PAUSE_FRAMES ? FIRST_PAUSE_FRAMES : wished;
      before = {
        number: tracks.size + 1,
        start,
        pause: pauseOf(ceilToFrame(ticks(cursor + (marks.pauseDelay ?? 0))), start, before),
        indexes: marks.indexes.map((after) => floorToFrame(ticks(framesToTicks(start) + after))),
      };
      tracks.set(id, before);
    }
    cursor = placed.end;
  }
  return { tracks, leadOut: ceilToFrame(placement.end) };
}

/** A pause lies at least a frame before its start mark and after the start mark before; track 1 has none of its own. */
function pauseOf(wished: Frames, start: Frames, before: TrackMarks | undefined): Frames | null {
  if (!before) return null;
  const pause = frames(Math.max(wished, before.start + 1));
  return pause < start ? pause : null;
}

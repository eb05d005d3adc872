import type { Layout } from '../album/sequence.js';
import type { Frames } from '../time/ticks.js';

/** A mark on the disc: track 1–99, index 00 (pause), 01 (start) and up, in absolute frames. */
export interface Mark {
  readonly track: number;
  readonly index: number;
  readonly frames: Frames;
}

/** All marks of a layout in the order of the disc, without the lead-in, the first pause and the lead-out. */
export function discMarks(layout: Layout): Mark[] {
  return layout.tracks.flatMap((placed, at) => {
    const track = at + 1;
    const marks: Mark[] = [];
    if (placed.pause !== null) marks.push({ track, index: 0, frames: placed.pause });
    marks.push({ track, index: 1, frames: placed.startMark });
    placed.indexes.forEach((frames, i) => marks.push({ track, index: i + 2, frames }));
    return marks;
  });
}

import type { DiscMarks } from '@oiseau/album/layout';
import type { Frames } from '@oiseau/audio/time';

/** A mark on the disc: track 1–99, index 00 (pause), 01 (start) and up, in absolute frames. */
export interface Mark {
  readonly track: number;
  readonly index: number;
  readonly frames: Frames;
}

/** All marks in the order of the disc, without the lead-in, the first pause and the lead-out. */
export function marksInOrder({ tracks }: DiscMarks): Mark[] {
  return [...tracks.values()].flatMap(({ number: track, pause, start, indexes }) => {
    const marks: Mark[] = [];
    if (pause !== null) marks.push({ track, index: 0, frames: pause });
    marks.push({ track, index: 1, frames: start });
    indexes.forEach((frames, i) => marks.push({ track, index: i + 2, frames }));
    return marks;
  });
}

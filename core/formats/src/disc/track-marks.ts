import type { Part } from '@oiseau/album/layout';
import { framesToTicks, ticks, type Ticks } from '@oiseau/audio/time';

/** Where a track begins, in time from the absolute zero of its part. */
export interface TrackStart {
  readonly id: string;
  readonly start: Ticks;
  /** Where the pause before it begins; null: there is none. */
  readonly pause: Ticks | null;
  /** Where its audio ends. */
  readonly end: Ticks;
}

/**
 * Where the tracks of a part begin, in order: on a disc at their marks, which stand on CD frames, on a side where their audio does, less
 * the mark lead, since nothing rounds it there (docs/rules.md 11.2).
 */
export function trackMarks({ tracks, sequence, placement, disc }: Part): TrackStart[] {
  let before: Ticks | null = null;
  return tracks.flatMap(({ id, marks }): TrackStart[] => {
    const audio = placement.songs.get(id);
    if (!audio) return [];
    const marked = disc?.tracks.get(id);
    const led = ticks(Math.max(0, audio.start - (marks.markLead ?? sequence.markLead)));
    const quiet = before !== null && before < led ? before : null;
    before = audio.end;
    return marked
      ? [
          {
            id,
            start: framesToTicks(marked.start),
            pause: marked.pause === null ? null : framesToTicks(marked.pause),
            end: audio.end,
          },
        ]
      : [{ id, start: led, pause: quiet, end: audio.end }];
  });
}

import {
  discMarks,
  framesToTicks,
  ticksToSeconds,
  type Layout,
  type Plan,
  type PlannedAudio,
} from '@oiseau/core';

/** A mark of the album inside a rendered file, in seconds from the file's start. */
export interface FilePlace {
  readonly seconds: number;
  readonly track: number;
  readonly index: number;
}

/** The marks of the album that lie in a file. */
export function marksInFile(
  layout: Layout,
  { start, end }: Pick<PlannedAudio, 'start' | 'end'>,
): FilePlace[] {
  return discMarks(layout)
    .map(({ track, index, frames }) => ({ track, index, time: framesToTicks(frames) }))
    .filter(({ time }) => time >= start && time < end)
    .map(({ track, index, time }) => ({
      track,
      index,
      seconds: ticksToSeconds(time) - ticksToSeconds(start),
    }));
}

/** The track that sounds at a moment of a file, from 1. */
export function trackOfMoment(
  layout: Layout,
  { start }: Pick<PlannedAudio, 'start'>,
  seconds: number,
): number {
  const at = ticksToSeconds(start) + seconds;
  const before = layout.tracks.filter(
    ({ startMark }) => ticksToSeconds(framesToTicks(startMark)) <= at + 1e-6,
  );
  return Math.max(1, before.length);
}

/** The planned audio behind a rendered file; undefined for one that holds none. */
export const audioOf = (plan: Plan, path: string): PlannedAudio | undefined =>
  plan.audio.find((file) => file.path === path);

/** Containers that a browser plays; the bare words of an image are given a head by the server. */
export const isHeard = ({ coding }: PlannedAudio): boolean => coding !== 'aiff' && coding !== 'alac';

import {
  audioFiles,
  isInside,
  ticksToSeconds,
  trackMarks,
  type Part,
  type Plan,
  type PlannedAudio,
} from '@oiseau/core';

/** The start of a track inside a rendered file, in seconds from the file's start. */
export interface FilePlace {
  readonly seconds: number;
  readonly id: string;
  /** Its number in its part. */
  readonly number: number;
}

/** The part of the album that a file was cut from. */
export const partOf = (parts: readonly Part[], { part }: PlannedAudio): Part | undefined =>
  parts.find(({ number }) => number === part);

/** The tracks that begin in a file. */
export const tracksInFile = (part: Part, { stretch }: PlannedAudio): FilePlace[] =>
  trackMarks(part).flatMap(({ id, start }, i) =>
    isInside(stretch, start)
      ? [{ id, number: i + 1, seconds: ticksToSeconds(start) - ticksToSeconds(stretch.start) }]
      : [],
  );

/** The track that sounds at a moment of a file. */
export function trackOfMoment(part: Part, { stretch }: PlannedAudio, seconds: number): FilePlace | undefined {
  const at = ticksToSeconds(stretch.start) + seconds;
  const all = trackMarks(part).map(({ id, start }, i) => ({
    id,
    number: i + 1,
    seconds: ticksToSeconds(start),
  }));
  return all.findLast((track) => track.seconds <= at + 1e-6) ?? all[0];
}

/** The planned audio behind a rendered file; undefined for one that holds none. */
export const audioOf = (plan: Plan, path: string): PlannedAudio | undefined =>
  audioFiles(plan).find((file) => file.path === path);

/** Containers that a browser plays; the bare words of an image are given a head by the server. */
export const isHeard = ({ coding }: PlannedAudio): boolean => coding !== 'aiff' && coding !== 'alac';

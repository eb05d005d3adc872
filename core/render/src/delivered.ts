import { english } from '@oiseau/messages';
import { partName, MAIN } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { trackMarks } from '@oiseau/formats/disc';
import { isInside, ticksToSeconds } from '@oiseau/audio/time';
import { audioFiles, type Plan, type PlannedAudio } from './planned.js';

/** Files of a delivery that are heard one after the other: those of one part and recording. */
export interface DeliveredRow {
  readonly key: string;
  readonly name: string;
  readonly part: Part;
  readonly files: readonly PlannedAudio[];
}

/** The rows of a delivery: its parts, and in each the recordings that it has files of. */
export function deliveredRows(plan: Plan, parts: readonly Part[]): DeliveredRow[] {
  const rows = new Map<string, DeliveredRow>();
  for (const file of audioFiles(plan)) {
    const part = parts.find(({ number }) => number === file.part);
    if (!part) continue;
    const key = `${file.part} ${file.alternate}`;
    const recording = file.alternate === MAIN ? '' : ` (${file.alternate})`;
    const known = rows.get(key) ?? { key, name: `${english(partName(part))}${recording}`, part, files: [] };
    rows.set(key, { ...known, files: [...known.files, file] });
  }
  return [...rows.values()];
}

/** The start of a track inside a rendered file, in seconds from the file's start. */
export interface FilePlace {
  readonly seconds: number;
  /** Of its song. */
  readonly id: string;
  /** Its number in its part. */
  readonly number: number;
}

/** The tracks that begin in a file. */
export const tracksInFile = (part: Part, { stretch }: PlannedAudio): FilePlace[] =>
  trackMarks(part).flatMap(({ id, start }, i) =>
    isInside(stretch, start)
      ? [{ id, number: i + 1, seconds: ticksToSeconds(start) - ticksToSeconds(stretch.start) }]
      : [],
  );

/** The track that sounds at a moment of a file; `seconds` of it are counted from the start of the part. */
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

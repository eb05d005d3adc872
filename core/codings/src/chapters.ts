import type { ContainerTag } from './container-tags.js';
import type { FileMark } from './flac-blocks.js';

/** A chapter of a file of several tracks, in seconds from its start. */
export interface Chapter {
  readonly start: number;
  readonly end: number;
  readonly title: string;
}

/** A file as far as its chapters depend on it. */
export interface MarkedAudio {
  readonly rate: number;
  /** Samples of one channel. */
  readonly length: number;
  readonly marks: readonly FileMark[];
}

/** A chapter for each track of a file, from its start mark to the next one; none where the file is one track. Index points are no chapters. */
export function chaptersOf({ marks, rate, length }: MarkedAudio): Chapter[] {
  const starts = marks.filter(({ index }) => index === 1);
  return starts.map(({ at, track, name }, i) => ({
    ...{ start: at / rate, end: (starts[i + 1]?.at ?? length) / rate },
    title: name || `Track ${track}`,
  }));
}

const two = (value: number): string => String(value).padStart(2, '0');

/** Chapters as comments of Vorbis and Opus have them, from 001 on: `CHAPTER001=00:00:00.000`, `CHAPTER001NAME=` and its title. */
export const oggChapterTags = (file: MarkedAudio): ContainerTag[] =>
  chaptersOf(file).flatMap(({ start, title }, i) => {
    const key = `CHAPTER${String(i + 1).padStart(3, '0')}`;
    const ms = Math.round(start * 1000);
    const clock = [Math.floor(ms / 3_600_000), Math.floor(ms / 60_000) % 60, Math.floor(ms / 1000) % 60].map(
      two,
    );
    return [
      { key, value: `${clock.join(':')}.${String(ms % 1000).padStart(3, '0')}` },
      { key: `${key}NAME`, value: title },
    ];
  });

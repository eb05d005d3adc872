import { cutsToLength, type ReadingSettings } from '@oiseau/formats/cutting';
import { Silhouette } from '@oiseau/audio/measure';
import type { Interval } from '@oiseau/audio/time';

/** A recording that is to be cut: its outline, and the stretch of it that is played, in CD frames of its own time. */
export interface ReadingQuestion {
  readonly song: string;
  readonly values: Uint16Array;
  readonly stretch: Interval<number>;
  readonly settings: ReadingSettings;
}

/** How many recordings are done, and in the end where each is cut. */
export type ReadingAnswer =
  | { readonly done: number }
  | { readonly cuts: readonly (readonly [song: string, cuts: readonly number[]])[] };

self.onmessage = ({ data }: MessageEvent<readonly ReadingQuestion[]>): void => {
  const tell = (answer: ReadingAnswer): void => self.postMessage(answer);
  const cuts = data.map(({ song, values, stretch, settings }, i) => {
    const found = cutsToLength(new Silhouette(values), stretch, settings);
    tell({ done: i + 1 });
    return [song, found] as const;
  });
  tell({ cuts });
};

import { ticks, type Interval, type Ticks } from '@oiseau/audio/time';

/** The stretch of the disc that the Bench shows, absolute times. */
export type BenchView = Interval<Ticks>;

/** How much is in sight, in seconds: from a whole ending down to single samples. */
export const SPANS = [60, 30, 15, 8, 4, 2, 1, 0.4, 0.1, 0.02, 0.004] as const;
export const FIRST_SPAN = 2;

/** Level at the outer edges of the picture, dBFS: from all that there is down to where a tail dies away and noise begins. */
export const TOPS_DB = [0, -12, -24, -36, -48, -60, -72] as const;
/** Lines of level so far under the outer edges, dB. */
const LINES_DB = [-6, -12, -24] as const;

/** The levels that are drawn as lines, dBFS. @param top at the outer edges */
export const levelLines = (top: number): number[] => LINES_DB.map((line) => top + line);

export function xOf(time: number, { start, end }: BenchView, width: number): number {
  return ((time - start) / (end - start)) * width;
}

export function timeAt(x: number, { start, end }: BenchView, width: number): Ticks {
  return ticks(Math.round(start + (x / width) * (end - start)));
}

/** Room for the times along the bottom, in pixels. */
export const RULER = 18;

/** The line between the two songs. */
export const axisOf = (height: number): number => Math.round((height - RULER) / 2);

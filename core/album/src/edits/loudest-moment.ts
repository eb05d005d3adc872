import { loudnessOverTime } from '@oiseau/audio/measure';
import { type Interval, secondsToTicks, ticks, ticksToSeconds, type Ticks } from '@oiseau/audio/time';
import type { Placement } from '../layout/placement.js';
import type { SequencedSong } from '../model/sequence.js';

/** How long a loudest moment is heard, seconds: the three of its loudness with what leads there. */
const MOMENT_S = 6;
const SHORT_TERM_S = 3;

/**
 * The loudest moment of a song: the 3 s of highest short-term loudness, in the middle of 6 s; within what is played. Where it was moved by
 * hand, from there on.
 * @param powers of its master, each 100 ms (see `loudnessOverTime`); undefined: not known, then the middle of the song
 * @returns a stretch of the master
 */
export function loudestMoment(
  { region, marks }: Pick<SequencedSong, 'region' | 'marks'>,
  powers: ArrayLike<number> | undefined,
): Interval<Ticks> {
  const [from, to] = [ticksToSeconds(region.in), ticksToSeconds(region.out)];
  const within = (start: number): Interval<Ticks> => {
    const first = Math.max(from, Math.min(start, to - MOMENT_S));
    const end = Math.min(to, first + MOMENT_S);
    return { start: ticks(secondsToTicks(first)), end: ticks(secondsToTicks(end)) };
  };
  if (marks.loudest !== null) return within(ticksToSeconds(marks.loudest));
  if (!powers) return within((from + to - MOMENT_S) / 2);
  let [most, at] = [-Infinity, from];
  loudnessOverTime(powers, 'short-term').forEach((lufs, i) => {
    // It is told at its end.
    const start = (i + 1) / 10 - SHORT_TERM_S;
    if (lufs === null || lufs <= most || start < from || start + SHORT_TERM_S > to) return;
    [most, at] = [lufs, start];
  });
  return within(at - (MOMENT_S - SHORT_TERM_S) / 2);
}

/** The same in the time of its part; null where the song has no place. */
export function placedMoment(
  song: SequencedSong,
  { songs }: Pick<Placement, 'songs'>,
  powers: ArrayLike<number> | undefined,
): Interval<Ticks> | null {
  const placed = songs.get(song.id);
  if (!placed) return null;
  const { start, end } = loudestMoment(song, powers);
  const at = (time: Ticks): Ticks => ticks(placed.start + time - song.region.in);
  return { start: at(start), end: at(end) };
}

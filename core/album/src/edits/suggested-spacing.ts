import { fadeGain } from '@oiseau/audio/dsp';
import type { Silhouette } from '@oiseau/audio/measure';
import { FRAMES_PER_SECOND, secondsToTicks, ticks, ticksToSeconds, type Ticks } from '@oiseau/audio/time';
import type { Part } from '../layout/part.js';
import { DEFAULT_GAP, type Song } from '../model/song.js';
import { beatsBetween } from '../model/tempo.js';

/** A gap that is proposed before a track, and what it follows from. */
export interface SpacingSuggestion {
  /** Id of the track that the gap comes before. */
  readonly song: string;
  /** From 0 to 8 s; never an overlap. */
  readonly gap: Ticks;
  /**
   * `continues`: the tracks run into each other. `habit`: the pause that transitions set by hand have. `usual`: too few are set by hand, so
   * two seconds.
   */
  readonly basis: 'continues' | 'habit' | 'usual';
  /** The pause that is aimed at, from the last sound of a track to the first of the next. */
  readonly pause: Ticks;
  /** Silence at the end of the earlier track, and at the beginning of the later one. */
  readonly tail: Ticks;
  readonly head: Ticks;
  /** The later track begins to sound on a beat of the earlier one, counted past its end. */
  readonly isOnBeat: boolean;
}

/** Quieter than this is silence, dBFS RMS over a window. */
const FLOOR_DB = -60;
/** Louder than this on both sides of a cut, tracks run into each other, dBFS. */
const SOUNDING_DB = -40;
/** Tenths of a second, in buckets of 1/75 s. */
const WINDOW = 8;
/** The beginning whose loudness a tail is compared with, in buckets: a second. */
const BEGINNING = FRAMES_PER_SECOND;
const MOST_GAP = secondsToTicks(8);
/** Transitions set by hand that make a habit. */
const LEAST_HABIT = 3;
const STEP = secondsToTicks(0.01);

/** How loud a track is at a place, from its own in point to its out point. */
class Levels {
  readonly #from: number;
  /** In buckets. */
  readonly length: number;

  constructor(
    private readonly song: Song,
    length: Ticks,
    private readonly outline: Silhouette,
  ) {
    this.#from = bucketsOf(song.region.in);
    this.length = bucketsOf(length);
  }

  /** RMS of the buckets `[at, at + count)`, dBFS, with gain and fades. */
  over(at: number, count: number): number {
    const { gainDb, fadeIn, fadeOut } = this.song.region;
    const { rms } = this.outline.over(this.#from + at, this.#from + Math.min(this.length, at + count));
    const middle = at + count / 2;
    const faded = (length: Ticks, place: number, shape: typeof fadeIn.shape): number =>
      length === 0 ? 1 : fadeGain(shape, Math.max(0, Math.min(1, place / bucketsOf(length))));
    const fades =
      faded(fadeIn.length, middle, fadeIn.shape) * faded(fadeOut.length, this.length - middle, fadeOut.shape);
    return 20 * Math.log10(rms * fades) + gainDb;
  }

  /** Buckets of silence at the beginning. */
  get head(): number {
    let at = 0;
    while (at < this.length && this.over(at, WINDOW) < FLOOR_DB) at += WINDOW;
    return Math.min(at, this.length);
  }

  /** Buckets at the end that are quieter than `threshold`. */
  tail(threshold: number): number {
    let silent = 0;
    while (silent < this.length && this.over(this.length - silent - WINDOW, WINDOW) < threshold)
      silent += WINDOW;
    return Math.min(silent, this.length);
  }
}

const bucketsOf = (time: Ticks): number => ticksToSeconds(time) * FRAMES_PER_SECOND;
const ofBuckets = (buckets: number): Ticks => secondsToTicks(buckets / FRAMES_PER_SECOND);

/** What is measured at one transition. */
interface Measured {
  readonly part: Part;
  readonly before: Song;
  readonly after: Song;
  readonly tail: Ticks;
  readonly head: Ticks;
  readonly continues: boolean;
}

function measuredOf(
  part: Part,
  before: Song,
  after: Song,
  outlines: ReadonlyMap<string, Silhouette>,
): Measured | null {
  const levelsOf = (song: Song): Levels | null => {
    const placed = part.placement.songs.get(song.id);
    const outline = outlines.get(song.region.master);
    return placed && outline ? new Levels(song, ticks(placed.end - placed.start), outline) : null;
  };
  const [ending, beginning] = [levelsOf(before), levelsOf(after)];
  if (!ending || !beginning) return null;
  const { head } = beginning;
  const loudness = beginning.over(head, BEGINNING);
  const isSounding = (db: number): boolean => db >= SOUNDING_DB;
  return {
    ...{ part, before, after, head: ofBuckets(head) },
    tail: ofBuckets(ending.tail(Math.min(FLOOR_DB, loudness))),
    continues:
      isSounding(ending.over(ending.length - WINDOW, WINDOW)) && isSounding(beginning.over(0, WINDOW)),
  };
}

/** The pause in the middle of those that were set by hand, other than before `own`; null: too few of them. */
function habitOf(measured: readonly Measured[], own: string, notChosen: ReadonlySet<string>): Ticks | null {
  const pauses = measured
    .filter(({ after: { id, region }, continues }) => {
      const isByHand = region.gapBefore > 0 && region.gapBefore !== DEFAULT_GAP && !notChosen.has(id);
      return isByHand && !continues && id !== own;
    })
    .map(({ after, tail, head }) => after.region.gapBefore + tail + head)
    .sort((a, b) => a - b);
  const middle = pauses[Math.floor(pauses.length / 2)];
  return middle === undefined || pauses.length < LEAST_HABIT ? null : ticks(middle);
}

/** The gap with which the later track begins to sound on the beat nearest to where it would; null: none is within 8 s. */
function gapOnBeat({ part, before, head }: Measured, gap: Ticks): Ticks | null {
  const placed = part.placement.songs.get(before.id);
  const { tempo } = before.marks;
  if (!tempo || !placed) return null;
  const origin = ticks(placed.start - before.region.in);
  const first = placed.end + head;
  const [nearest] = beatsBetween(tempo, origin, ticks(first), ticks(first + MOST_GAP + 1))
    .map(({ time }) => time - first)
    .filter((each) => each >= 0 && each <= MOST_GAP)
    .sort((a, b) => Math.abs(a - gap) - Math.abs(b - gap));
  return nearest === undefined ? null : ticks(nearest);
}

/**
 * Proposes gaps from what is measured: where the tail of a track falls below the beginning of the next and below −60 dBFS, the silence before
 * that beginning, the pause that the other transitions set by hand have, and the beat of the earlier track. The same album gives the same
 * answer.
 * @param asked ids of tracks before which a gap is proposed
 * @param outlines by master; a transition without them gets no proposal
 * @param notChosen ids of tracks whose gap was never chosen; other gaps that aren't two seconds count as set by hand
 */
export function suggestSpacing(
  parts: readonly Part[],
  asked: ReadonlySet<string>,
  outlines: ReadonlyMap<string, Silhouette>,
  notChosen: ReadonlySet<string> = new Set(),
): SpacingSuggestion[] {
  const measured = parts.flatMap((part) =>
    part.songs.flatMap((after, i) => {
      const before = part.songs[i - 1];
      return (before && measuredOf(part, before, after, outlines)) ?? [];
    }),
  );
  return measured
    .filter(({ after }) => asked.has(after.id))
    .map((each) => suggestionOf(each, habitOf(measured, each.after.id, notChosen)));
}

function suggestionOf(each: Measured, habit: Ticks | null): SpacingSuggestion {
  const { after, tail, head, continues } = each;
  const pause = habit ?? DEFAULT_GAP;
  const of = { song: after.id, pause, tail, head };
  if (continues) return { ...of, gap: ticks(0), basis: 'continues', isOnBeat: false };
  const wanted = Math.max(0, Math.min(MOST_GAP, pause - tail - head));
  const gap = ticks(Math.round(wanted / STEP) * STEP);
  const onBeat = gapOnBeat(each, gap);
  const basis = habit === null ? 'usual' : 'habit';
  return { ...of, gap: onBeat ?? gap, basis, isOnBeat: onBeat !== null };
}

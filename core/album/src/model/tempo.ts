import * as z from '@oiseau/audio/z';
import { ticks, TICKS_PER_SECOND, type Ticks } from '@oiseau/audio/time';

/** Beats in a minute that a person counts, slowest and fastest. */
export const SLOWEST_BPM = 20;
export const FASTEST_BPM = 400;

/** All of a tempo but the place of a beat, which the album keeps in ticks and its file in seconds. */
export const tempoShape = {
  bpm: z.number().min(SLOWEST_BPM).max(FASTEST_BPM),
  /** Beats in a bar. */
  bar: z.int().min(1).max(16),
};

/** How a song is counted. */
export interface Tempo {
  readonly bpm: number;
  /** The place of one beat that begins a bar, from the start of the master. */
  readonly beat: Ticks;
  /** Beats in a bar. */
  readonly bar: number;
}

/** Ticks from one beat to the next; not rounded, since beats are counted far past the end. */
export const beatLength = ({ bpm }: Pick<Tempo, 'bpm'>): number => (60 / bpm) * TICKS_PER_SECOND;

/** One beat on the disc. */
export interface Beat {
  readonly time: Ticks;
  /** Beats since the one the tempo was set by; a multiple of `bar` begins a bar. */
  readonly number: number;
}

/**
 * The beats of a song in `[from, until)`, whether it still sounds there or not: they carry on past its end.
 * @param origin absolute time at which the master would start
 */
export function beatsBetween(tempo: Tempo, origin: Ticks, from: Ticks, until: Ticks): Beat[] {
  const step = beatLength(tempo);
  const anchor = origin + tempo.beat;
  const first = Math.ceil((from - anchor) / step);
  const count = Math.max(0, Math.ceil((until - anchor) / step) - first);
  return Array.from({ length: count }, (_, i) => ({
    time: ticks(Math.round(anchor + (first + i) * step)),
    number: first + i,
  }));
}

/** Whether a beat begins a bar. */
export const beginsBar = ({ number }: Beat, { bar }: Pick<Tempo, 'bar'>): boolean =>
  ((number % bar) + bar) % bar === 0;

/** Taps within one count of each other belong together: the least that a line can be drawn through. */
const LEAST_TAPS = 3;

/**
 * The tapped tempo: the straight line that lies nearest to all taps, a beat left out being seen as such.
 * @param taps seconds, in order; the first is taken as the beginning of a bar
 * @returns `bpm`, and in `firstBeat` the place of the first tap as the line has it; null for fewer than three taps or none
 *     that a person counts
 */
export function tempoOfTaps(taps: readonly number[]): { bpm: number; firstBeat: number } | null {
  const first = taps[0];
  if (first === undefined || taps.length < LEAST_TAPS) return null;
  const waits = taps.slice(1).map((tap, i) => tap - (taps[i] as number));
  const usual = [...waits].sort((a, b) => a - b)[Math.floor(waits.length / 2)] as number;
  if (!(usual > 0)) return null;
  let beat = 0;
  const points = taps.map((tap, i) => {
    if (i > 0) beat += Math.max(1, Math.round((waits[i - 1] as number) / usual));
    return { beat, tap };
  });
  const mean = (of: (point: (typeof points)[number]) => number): number =>
    points.reduce((sum, point) => sum + of(point), 0) / points.length;
  const middleBeat = mean((point) => point.beat);
  const middleTap = mean((point) => point.tap);
  const period =
    mean((point) => (point.beat - middleBeat) * (point.tap - middleTap)) /
    mean((point) => (point.beat - middleBeat) ** 2);
  const bpm = 60 / period;
  if (bpm < SLOWEST_BPM || bpm > FASTEST_BPM) return null;
  return { bpm, firstBeat: middleTap - period * middleBeat };
}

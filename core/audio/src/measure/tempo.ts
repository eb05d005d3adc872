import type { Block, PcmSource } from '../pcm/block.js';
import type { Interval } from '../time/interval.js';
import { Fft } from '../dsp/fft.js';

/** Seconds of a song's end that its tempo is estimated from. */
export const TEMPO_STRETCH_S = 20;

/** Onsets are told a hundred times a second, from windows of about 46 ms. */
const HOPS_PER_SECOND = 100;
const WINDOW_S = 0.046;
/** Beats are looked for between 45 and 210 a minute, those nearest to 100 before their halves and doubles. */
const SLOWEST_SOUGHT = 45;
const FASTEST_SOUGHT = 210;
const LIKELIEST_BPM = 100;
/** How much more sounds on the beats than between them, at the least, for a pulse to be one. */
const LEAST_PULSE = 1.6;
/** How much more, for a pulse to be clear. */
const CLEAR_PULSE = 3;
/** Both halves of a stretch that is counted evenly have one tempo, within this share. */
const EVEN = 0.02;
/** What grows from one hundredth to the next at the least in the mean, as a sum over frequencies: a steady tone stays below. */
const LEAST_GROWTH = 1;

export interface TempoEstimate {
  readonly bpm: number;
  /** Seconds from the start of the audio to one beat, the one of its bar that is struck hardest. */
  readonly firstBeat: number;
  readonly certainty: TempoCertainty;
}
/** How sure: it pulses clearly and evenly throughout · clearly, or evenly · it may be by chance. */
export type TempoCertainty = 'sure' | 'likely' | 'guess';

/**
 * The tempo of some seconds of audio: where its sound grows again and again, as steadily as a person counts.
 * @param bar beats in a bar
 * @returns null when nothing pulses in it
 */
export function estimateTempo(audio: Block, rate: number, bar: number): TempoEstimate | null {
  const onsets = onsetStrength(audio, rate);
  const found = pulseOf(onsets);
  if (!found) return null;
  const { period, offset, clear } = found;
  const middle = Math.floor(onsets.length / 2);
  const halves = [pulseOf(onsets.subarray(0, middle)), pulseOf(onsets.subarray(middle))];
  const even = halves.every((half) => half !== null && sameTempo(half.period, period));
  return {
    bpm: (60 * HOPS_PER_SECOND) / period,
    firstBeat: (offset + hardest(onsets, offset, period, bar) * period) / HOPS_PER_SECOND,
    certainty: clear && even ? 'sure' : clear || even ? 'likely' : 'guess',
  };
}

/** How far before its end a song is looked at for a stretch that has a beat, and in what steps; seconds. */
const LOOKED_AT_S = 180;
const STEP_S = 10;
const LEAST_STRETCH_S = 6;

/** A tempo, and the stretch that has it, in samples. */
export interface FoundTempo extends TempoEstimate, Interval<number> {}

/**
 * The tempo of the last stretch before a place that has one: an ending in free time, or one that fades away, has none of its own. What is
 * sure or likely goes before a guess that stands later.
 * @param first where the song begins, `before` where it ends, in samples
 */
export async function lastTempo(
  source: PcmSource,
  first: number,
  before: number,
  bar: number,
): Promise<FoundTempo | null> {
  const { rate } = source;
  let guess: FoundTempo | null = null;
  const earliest = Math.max(first, before - LOOKED_AT_S * rate);
  for (let end = before; end - earliest >= LEAST_STRETCH_S * rate; end -= STEP_S * rate) {
    const start = Math.max(first, end - TEMPO_STRETCH_S * rate);
    const tempo = estimateTempo(await source.read(start, end - start), rate, bar);
    if (!tempo) continue;
    if (tempo.certainty !== 'guess') return { ...tempo, start, end };
    guess ??= { ...tempo, start, end };
  }
  return guess;
}

const sameTempo = (a: number, b: number): boolean =>
  [0.5, 1, 2].some((times) => Math.abs((a * times) / b - 1) < EVEN);

/** The pulse of some onsets, in hundredths of a second; null where there is none. */
function pulseOf(onsets: Float64Array): { period: number; offset: number; clear: boolean } | null {
  const mean = onsets.reduce((sum, value) => sum + value, 0) / Math.max(1, onsets.length);
  if (mean < LEAST_GROWTH || onsets.length < 4 * HOPS_PER_SECOND) return null;
  const rough = roughPeriod(onsets.map((value) => value - mean));
  if (rough === null) return null;
  const { period, offset, strength } = finestComb(onsets, rough);
  if (strength < LEAST_PULSE * mean) return null;
  return { period, offset, clear: strength >= CLEAR_PULSE * mean };
}

/** How much the sound grows, over all frequencies, in each hundredth of a second; value n belongs to n/100 s. */
function onsetStrength({ left, right }: Block, rate: number): Float64Array {
  const hop = rate / HOPS_PER_SECOND;
  const size = 2 ** Math.round(Math.log2(rate * WINDOW_S));
  const fft = Fft.of(size);
  const re = new Float64Array(size);
  const im = new Float64Array(size);
  const bins = Math.min(size / 2, Math.floor((size * 11_000) / rate));
  let before = new Float64Array(bins);
  let now = new Float64Array(bins);
  const count = Math.floor(left.length / hop);
  const strength = new Float64Array(count);
  const window = Float64Array.from(
    { length: size },
    (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / size),
  );
  let filled = false;
  for (let n = 0; n < count; n++) {
    // The window is centred on its moment; where it would reach beyond the audio, nothing is told.
    const start = Math.round(n * hop) - size / 2;
    if (start < 0 || start + size > left.length) continue;
    for (let i = 0; i < size; i++) {
      re[i] = (window[i] as number) * (left[start + i] as number);
      im[i] = (window[i] as number) * (right[start + i] as number);
    }
    fft.transform(re, im);
    let grown = 0;
    for (let k = 0; k < bins; k++) {
      // Compressed above −60 dBFS, so that a soft stroke under a loud tail counts as well.
      now[k] = Math.log1p((1000 * bothMagnitude(re, im, k)) / (size / 2));
      if (filled) grown += Math.max(0, (now[k] as number) - (before[k] as number));
    }
    strength[n] = grown;
    filled = true;
    [before, now] = [now, before];
  }
  return strength;
}

/**
 * Magnitude of both channels together at a frequency, of a transform whose real part was the left one and whose imaginary
 * part the right one: √(2·(|L|² + |R|²)), so that channels against each other do not cancel.
 */
function bothMagnitude(re: Float64Array, im: Float64Array, k: number): number {
  const mirrored = (re.length - k) % re.length;
  return Math.hypot(re[k] as number, im[k] as number, re[mirrored] as number, im[mirrored] as number);
}

/** The lag, in hundredths of a second, at which the onsets are most like themselves. */
function roughPeriod(onsets: Float64Array): number | null {
  const likeness = (lag: number): number => {
    let sum = 0;
    for (let n = lag; n < onsets.length; n++) sum += (onsets[n] as number) * (onsets[n - lag] as number);
    return sum / (onsets.length - lag);
  };
  const shortest = Math.floor((60 * HOPS_PER_SECOND) / FASTEST_SOUGHT);
  const longest = Math.ceil((60 * HOPS_PER_SECOND) / SLOWEST_SOUGHT);
  const of = Array.from({ length: 4 * longest + 4 }, (_, lag) =>
    lag >= shortest && lag < onsets.length / 2 ? likeness(lag) : 0,
  );
  // The neighbours count too: a period that is no whole number of hundredths shares its likeness with them.
  const around = (lag: number): number => Math.max(...of.slice(lag - 1, lag + 2));
  let best: number | null = null;
  let most = 0;
  for (let lag = shortest; lag <= longest; lag++) {
    const octaves = Math.log2((60 * HOPS_PER_SECOND) / lag / LIKELIEST_BPM);
    const score = (of[lag] as number) + (around(2 * lag) + around(3 * lag) + around(4 * lag)) / 3;
    const weighted = score * Math.exp(-0.5 * octaves ** 2);
    if (weighted <= most) continue;
    most = weighted;
    best = lag;
  }
  return best;
}

/** The evenly spaced comb near a rough period whose teeth meet the most onsets. */
function finestComb(
  onsets: Float64Array,
  rough: number,
): { period: number; offset: number; strength: number } {
  const at = (place: number): number => {
    const i = Math.floor(place);
    const share = place - i;
    return (1 - share) * (onsets[i] ?? 0) + share * (onsets[i + 1] ?? 0);
  };
  let best = { period: rough, offset: 0, strength: -1 };
  for (let period = rough - 1; period <= rough + 1; period += 0.02) {
    for (let offset = 0; offset < period; offset += 0.5) {
      let sum = 0;
      let teeth = 0;
      for (let place = offset; place < onsets.length - 1; place += period, teeth++) sum += at(place);
      if (sum / teeth > best.strength) best = { period, offset, strength: sum / teeth };
    }
  }
  return best;
}

/** Which beat of the bar is struck hardest: it is taken for the first. */
function hardest(onsets: Float64Array, offset: number, period: number, bar: number): number {
  const struck = Array.from({ length: bar }, (_, beat) => {
    let sum = 0;
    let count = 0;
    for (let place = offset + beat * period; place < onsets.length; place += bar * period, count++)
      sum += onsets[Math.round(place)] ?? 0;
    return sum / Math.max(1, count);
  });
  return struck.indexOf(Math.max(...struck));
}

import { atRate } from '../dsp/resample.js';
import type { PcmSource } from '../pcm/block.js';
import { Fft } from '../dsp/fft.js';

/** How two recordings of one song lie to each other. */
export interface LineUp {
  /** How many samples of its own the other recording is later; negative: earlier. */
  readonly samples: number;
  /** Of the other recording, Hz. */
  readonly rate: number;
  /** How far the likeness at that shift stands out from all others, in standard deviations of those. */
  readonly certainty: number;
}

/** Windows that are laid against each other, spread over the song. */
const WINDOWS = 10;
/** What both share is looked for where drums, bass and voices have their strokes, Hz. */
const LOWEST_HZ = 60;
const HIGHEST_HZ = 9000;
/** By how much the spectra are flattened, 0 to 1: strokes count more than what is held. */
const FLATTENED = 0.7;
/** What stands out less is chance. Noise against noise reaches about 5 over as many shifts. */
const LEAST_CERTAINTY = 12;

/** −100 dBFS. */
const SILENT = 1e-10;

/** Samples of a window, and as many to both sides in which the other is looked for: about 3 s, and 1.5 s each way. */
const windowOf = (rate: number): number => 2 ** Math.round(Math.log2(rate * 3));

/** The longest shift that is found, seconds. */
export const MOST_SHIFT_S = 1.3;

/**
 * How much later another recording of a song is than its master, by the correlation of what both share (docs/rules.md 13). Reads in windows;
 * a minute or an hour take the same time.
 * @param progress gets the share that is done
 * @returns null where they share nothing that shows it, or it is more than `MOST_SHIFT_S`
 */
export async function measureLineUp(
  master: PcmSource,
  other: PcmSource,
  progress?: (share: number) => Promise<void> | void,
): Promise<LineUp | null> {
  const { rate } = master;
  const alike = atRate(other, rate);
  const size = windowOf(rate);
  const reach = size / 2;
  const fft = Fft.of(2 * size);
  const [sumRe, sumIm] = [new Float64Array(2 * size), new Float64Array(2 * size)];
  const length = Math.min(master.length, alike.length);
  const places = Math.max(1, Math.min(WINDOWS, Math.floor(length / size)));
  for (let n = 0; n < places; n++) {
    const start = Math.max(0, Math.round(((n + 0.5) * length) / places - size / 2));
    // The real part is the master's window, the imaginary part the stretch of the other around it: one transform for both.
    const re = await middle(master, start, size, 2 * size);
    const im = await middle(alike, start - reach, 2 * size, 2 * size);
    // Rounding would speak where there is silence.
    if (power(re) < SILENT || power(im) < SILENT) continue;
    fft.transform(re, im);
    addCross(re, im, rate, sumRe, sumIm);
    await progress?.((n + 1) / places);
  }
  // The inverse transform, by way of the complex conjugate.
  for (let i = 0; i < sumIm.length; i++) sumIm[i] = -(sumIm[i] as number);
  fft.transform(sumRe, sumIm);
  return read(sumRe, reach, rate, other.rate);
}

/** The middle of both channels, as `size` values with silence behind. */
async function middle(source: PcmSource, start: number, count: number, size: number): Promise<Float64Array> {
  const { left, right } = await source.read(start, count);
  const both = new Float64Array(size);
  for (let i = 0; i < count; i++) both[i] = ((left[i] as number) + (right[i] as number)) / 2;
  return both;
}

const power = (audio: Float64Array): number =>
  audio.reduce((sum, value) => sum + value * value, 0) / audio.length;

/** Adds the flattened cross spectrum of two real signals, transformed as one complex one, to a sum. */
function addCross(
  re: Float64Array,
  im: Float64Array,
  rate: number,
  sumRe: Float64Array,
  sumIm: Float64Array,
): void {
  const size = re.length;
  const from = Math.ceil((LOWEST_HZ * size) / rate);
  const to = Math.min(size / 2 - 1, Math.floor((HIGHEST_HZ * size) / rate));
  for (let k = from; k <= to; k++) {
    const m = size - k;
    const [xr, xi, yr, yi] = [re[k], im[k], re[m], im[m]] as [number, number, number, number];
    const [ar, ai] = [(xr + yr) / 2, (xi - yi) / 2];
    const [br, bi] = [(xi + yi) / 2, (yr - xr) / 2];
    const both = (ar * ar + ai * ai) * (br * br + bi * bi);
    if (both === 0) continue;
    const weight = both ** (-FLATTENED / 2);
    const [cr, ci] = [weight * (ar * br + ai * bi), weight * (ar * bi - ai * br)];
    sumRe[k] = (sumRe[k] as number) + cr;
    sumIm[k] = (sumIm[k] as number) + ci;
    sumRe[m] = (sumRe[m] as number) + cr;
    sumIm[m] = (sumIm[m] as number) - ci;
  }
}

/** Finds the shift in a correlation whose value at `reach` is that of no shift at all. */
function read(correlation: Float64Array, reach: number, rate: number, otherRate: number): LineUp | null {
  const most = Math.floor(MOST_SHIFT_S * rate);
  const at = (lag: number): number => Math.abs(correlation[reach + lag] ?? 0);
  let best = 0;
  for (let lag = -most; lag <= most; lag++) if (at(lag) > at(best)) best = lag;
  let [sum, count] = [0, 0];
  // What lies within 3 ms of it belongs to it.
  const near = Math.round(0.003 * rate);
  for (let lag = -most; lag <= most; lag++)
    if (Math.abs(lag - best) > near) {
      sum += at(lag) ** 2;
      count++;
    }
  const deviation = Math.sqrt(sum / Math.max(1, count));
  const certainty = deviation > 0 ? at(best) / deviation : 0;
  if (certainty < LEAST_CERTAINTY || Math.abs(best) === most) return null;
  // Between two samples where the rates differ: the top of a parabola through three.
  const [before, top, after] = [at(best - 1), at(best), at(best + 1)];
  const bend = before - 2 * top + after;
  const between = otherRate === rate || bend === 0 ? 0 : (before - after) / (2 * bend);
  const samples = Math.round(((best + between) * otherRate) / rate);
  return { samples: samples === 0 ? 0 : samples, rate: otherRate, certainty };
}

import { correlation } from './correlation.js';
import { addTo, type JoinedMeter } from './joined-meter.js';

/** Width of a band in which the upper end of a spectrum is looked at, Hz. */
const BAND_HZ = 100;
/** Where it is loud tells which moments show what lies above, Hz: below every edge that is looked for. */
const BRIGHT_HZ = [6000, 9000] as const;
/** Moments are kept apart by how loud they are there, in steps of so many dB from the floor on. */
const CLASS_DB = 3;
const FLOOR_DB = -120;
const CLASSES = 40;
/** The brightest moments that are taken together: so many at least, and so large a share of all that sound. */
const LEAST_MOMENTS = 8;
const SHARE = 0.04;

/** The spectrum of the brightest moments of a master up to half of its rate, and the steepest place in it. */
export interface UpperEnd {
  /** Width of each band, Hz; the first begins at 0. */
  readonly bandHz: number;
  /** dB of each band, a full-scale sine in both channels being 0; null where nothing is there. */
  readonly bandsDb: readonly (number | null)[];
  /** Where it falls most steeply, from 9 kHz on; null where half the rate lies too low for one. */
  readonly edge: UpperEdge | null;
  /** Half of a lower usual rate about which it repeats itself in a mirror, as after a careless conversion; null: about none. */
  readonly mirror: { readonly hz: number; readonly likeness: number } | null;
  /** Sample at which the moment begins that shows it best. */
  readonly at: number;
}

export interface UpperEdge {
  readonly hz: number;
  /** From the lowest of the 400 Hz that end 200 Hz below it to those that begin 200 Hz above. */
  readonly dropDb: number;
  /** By how much anything above stands out of what lies right above it, dB. */
  readonly aboveDb: number;
}

/** What stands in a band of 100 Hz above this is more than the noise of 16-bit dither, dBFS. */
const AUDIBLE_DB = -108;
/** What lies so far below the loudest band may be what the transform itself leaks, dB. */
const LEAKAGE_DB = 85;

/** The highest frequency at which the spectrum still holds music, Hz; null for silence. */
export function bandwidthOf({ bandHz, bandsDb }: Pick<UpperEnd, 'bandHz' | 'bandsDb'>): number | null {
  const loudest = bandsDb.reduce<number>((most, db) => Math.max(most, db ?? -Infinity), -Infinity);
  const least = Math.max(AUDIBLE_DB, loudest - LEAKAGE_DB);
  const top = bandsDb.findLastIndex((db) => db !== null && db > least);
  return top < 0 ? null : (top + 1) * bandHz;
}

/** Moments of a stretch by how bright they are: their sums, their number, and of each kind the brightest, with its place. */
export interface UpperEndState {
  readonly sums: readonly (Float64Array | undefined)[];
  readonly counts: Uint32Array;
  readonly best: Float64Array;
  readonly bestAt: Float64Array;
}

/** Bins with which bands end, made once for each rate and size: the kernels keep them. */
const known = new Map<string, Uint32Array>();

function endsOf(rate: number, size: number): Uint32Array {
  const key = `${rate} ${size}`;
  const binsPerBand = (BAND_HZ * size) / rate;
  const ends =
    known.get(key) ??
    Uint32Array.from({ length: Math.floor(rate / 2 / BAND_HZ) }, (_, band) =>
      Math.min(size / 2 + 1, Math.floor((band + 1) * binsPerBand)),
    );
  known.set(key, ends);
  return ends;
}

/** Gathers moments of a spectrum, one after the other. */
export class UpperEndMeter implements JoinedMeter<UpperEndState> {
  /** The bin with which each band ends. */
  readonly ends: Uint32Array;
  readonly #sums: (Float64Array | undefined)[] = [];
  readonly #counts = new Uint32Array(CLASSES);
  /** Of each class the brightest moment, and how bright it is. */
  readonly #best = new Float64Array(CLASSES).fill(-Infinity);
  readonly #bestAt = new Float64Array(CLASSES);
  #moments: number;

  /**
   * @param size of the transform
   * @param full the power of a full-scale sine in both channels
   * @param moments that came before the first one
   */
  constructor(
    readonly rate: number,
    readonly size: number,
    readonly full: number,
    moments = 0,
  ) {
    this.#moments = moments;
    this.ends = endsOf(rate, size);
  }

  get state(): UpperEndState {
    return { sums: this.#sums, counts: this.#counts, best: this.#best, bestAt: this.#bestAt };
  }

  join({ sums, counts, best, bestAt }: UpperEndState): void {
    for (let group = 0; group < CLASSES; group++) {
      const found = sums[group];
      if (found) addTo((this.#sums[group] ??= new Float64Array(this.ends.length)), found);
      this.#counts[group] = (this.#counts[group] as number) + (counts[group] as number);
      if ((best[group] as number) <= (this.#best[group] as number)) continue;
      this.#best[group] = best[group] as number;
      this.#bestAt[group] = bestAt[group] as number;
    }
  }

  /** @param power of each bin from 0 to half the size */
  push(power: Float64Array): void {
    let bin = 1;
    this.pushBands(
      Float64Array.from(this.ends, (end) => {
        let sum = 0;
        for (; bin < end; bin++) sum += power[bin] as number;
        return sum;
      }),
    );
  }

  /** The same with the sums of the powers of each band. */
  pushBands(bands: Float64Array): void {
    let bright = 0;
    for (let band = BRIGHT_HZ[0] / BAND_HZ; band < Math.min(bands.length, BRIGHT_HZ[1] / BAND_HZ); band++)
      bright += bands[band] as number;
    const db = bright > 0 ? 10 * Math.log10(bright / this.full) : -Infinity;
    const place = Math.floor((db - FLOOR_DB) / CLASS_DB);
    const moment = this.#moments++;
    // What has nothing up there (a low tone) goes to the lowest class, which counts where no other has anything.
    if (place < 0 && !isSounding(bands, this.full)) return;
    const group = Math.max(0, Math.min(CLASSES - 1, place));
    addTo((this.#sums[group] ??= new Float64Array(bands.length)), bands);
    this.#counts[group] = (this.#counts[group] as number) + 1;
    if (db > (this.#best[group] as number)) {
      this.#best[group] = db;
      this.#bestAt[group] = moment;
    }
  }

  /** null for a master without sound in it, or too short for a moment. */
  result(): UpperEnd | null {
    const bright = this.#counts.subarray(1).reduce((sum, count) => sum + count, 0);
    const sounding = bright > 0 ? bright : (this.#counts[0] as number);
    const wanted = Math.max(LEAST_MOMENTS, SHARE * sounding);
    const sums = new Float64Array(this.ends.length);
    let taken = 0;
    let at = -1;
    for (let group = CLASSES - 1; group >= (bright > 0 ? 1 : 0) && taken < wanted; group--) {
      const count = this.#counts[group] as number;
      if (count === 0) continue;
      if (at < 0) at = this.#bestAt[group] as number;
      this.#sums[group]?.forEach((value, band) => (sums[band] = (sums[band] as number) + value));
      taken += count;
    }
    if (taken === 0) return null;
    const bandsDb = Array.from(sums, (sum) => (sum > 0 ? 10 * Math.log10(sum / taken / this.full) : null));
    const at0 = at * this.size;
    return { bandHz: BAND_HZ, bandsDb, edge: edgeOf(bandsDb), mirror: mirrorOf(bandsDb), at: at0 };
  }
}

/** Whether any band stands out of silence, by the power of a full-scale sine. */
function isSounding(bands: Float64Array, full: number): boolean {
  const least = full * 10 ** (FLOOR_DB / 10);
  return bands.some((power) => power > least);
}

/** The lowest edge that is looked for, Hz. */
const LEAST_HZ = 9000;
/** What is laid against each other to both sides of an edge: so far from it, and so wide, in bands. */
const APART = 2;
const WIDE = 4;
/** A band without anything counts as this quiet, dB. */
const NOTHING_DB = -180;

function edgeOf(bandsDb: readonly (number | null)[]): UpperEdge | null {
  const db = bandsDb.map((value) => value ?? NOTHING_DB);
  const mean = (from: number, to: number): number => {
    let sum = 0;
    for (let i = from; i < to; i++) sum += db[i] as number;
    return sum / (to - from);
  };
  let best: { readonly at: number; readonly drop: number } | null = null;
  for (let at = LEAST_HZ / BAND_HZ; at + APART + WIDE <= db.length; at++) {
    // A tone, or a few, is no edge: every band below it must stand high.
    const drop = Math.min(...db.slice(at - APART - WIDE, at - APART)) - mean(at + APART, at + APART + WIDE);
    if (!best || drop > best.drop) best = { at, drop };
  }
  if (!best) return null;
  const { at, drop } = best;
  const above = mean(at + APART, at + APART + WIDE);
  let highest = -Infinity;
  for (let i = at + APART; i < db.length; i++) highest = Math.max(highest, db[i] as number);
  return { hz: at * BAND_HZ, dropDb: drop, aboveDb: highest - above };
}

/** Half of the usual rates that something may have come from, Hz. */
const HALF_RATES_HZ = [22_050, 24_000, 44_100, 48_000] as const;
/** What sounds by chance has another height from band to band; ripples of a click, or of a comb, are alike at two places without a conversion. */
const MOST_SMOOTH = 0.6;
/** Bands beside the place that are left out, and how far from it is looked. */
const NEAR = 5;
const FAR = 80;
/** From so many pairs of bands on, and from such a correlation on, it is a mirror. */
const LEAST_PAIRS = 40;
const LEAST_LIKENESS = 0.75;

/** What a band stands out by from those around it: the fine shape, which chance alone makes alike at two places. */
function mirrorOf(bandsDb: readonly (number | null)[]): UpperEnd['mirror'] {
  const db = bandsDb.map((value) => value ?? NOTHING_DB);
  const standsOut = (band: number): number => {
    let sum = 0;
    for (let i = -NEAR; i <= NEAR; i++) sum += db[band + i] as number;
    return (db[band] as number) - sum / (2 * NEAR + 1);
  };
  let best: UpperEnd['mirror'] = null;
  for (const hz of HALF_RATES_HZ) {
    const centre = hz / BAND_HZ - 0.5;
    const below: number[] = [];
    const above: number[] = [];
    for (let far = NEAR; far < FAR && Math.round(centre + far) + NEAR < db.length; far++) {
      below.push(standsOut(Math.round(centre - far)));
      above.push(standsOut(Math.round(centre + far)));
    }
    const smooth = correlation(below.slice(1), below.slice(0, -1)) ?? 1;
    const likeness = below.length < LEAST_PAIRS || smooth > MOST_SMOOTH ? null : correlation(below, above);
    if (likeness !== null && likeness >= LEAST_LIKENESS && likeness > (best?.likeness ?? 0))
      best = { hz, likeness };
  }
  return best;
}

import type { Silhouette } from '@oiseau/audio/measure';

/** What is known of a track's level before its gain. */
export interface TrackLevel {
  /** null: silent, or not measured. */
  readonly integratedLufs: number | null;
  readonly truePeakDbtp: number | null;
  readonly gainDb: number;
  /** A limiter holds its peaks, whatever its gain: they leave room for any. */
  readonly isLimited?: boolean;
  /** Seconds. */
  readonly length: number;
}

/** Gains are proposed in tenths of a decibel: finer is not heard. */
const roundDown = (db: number): number => Math.floor(db * 10 + 1e-9) / 10;

/**
 * Gains that bring every track to the loudness of one of them, as it is with its gain. None lifts a true peak over the
 * ceiling: such a track stays quieter than the others. The reference itself stays as it is.
 * @returns a gain in dB for each track; its own where nothing can be said
 */
export function matchedGains(
  tracks: readonly TrackLevel[],
  reference: number,
  ceilingDbtp: number,
): number[] {
  const model = tracks[reference];
  if (!model || model.integratedLufs === null) return tracks.map(({ gainDb }) => gainDb);
  const wanted = model.integratedLufs + model.gainDb;
  return tracks.map(({ integratedLufs, truePeakDbtp, gainDb, isLimited = false }, i) => {
    if (i === reference || integratedLufs === null) return gainDb;
    const room = truePeakDbtp === null || isLimited ? Infinity : ceilingDbtp - truePeakDbtp;
    return roundDown(Math.min(wanted - integratedLufs, room));
  });
}

/** Loudness of all tracks together, each with its gain and for as long as it lasts; null where nothing sounds. */
export function albumLoudness(tracks: readonly TrackLevel[]): number | null {
  const heard = tracks.filter(({ integratedLufs }) => integratedLufs !== null);
  const seconds = heard.reduce((sum, { length }) => sum + length, 0);
  if (seconds === 0) return null;
  const power = heard.reduce(
    (sum, { integratedLufs, gainDb, length }) => sum + length * 10 ** (((integratedLufs ?? 0) + gainDb) / 10),
    0,
  );
  return 10 * Math.log10(power / seconds);
}

/** What a limiter would do to a track that is lifted over a peak limit. */
export interface LimiterForecast {
  /** The gain with which the track is as loud as it is wished to be, dB. */
  readonly gainDb: number;
  /** What would be taken away at the most, dB. */
  readonly mostDb: number;
  /** How often it would begin to take something away. */
  readonly times: number;
}

/**
 * What a limiter would have to do so that a track is as loud as another; null where its peaks leave room for that.
 * @param outline of its master, each 1/75 s (see `Silhouette`)
 */
export function limiterForecast(
  track: TrackLevel,
  model: TrackLevel,
  ceilingDbtp: number,
  outline: Pick<Silhouette, 'length' | 'over'>,
): LimiterForecast | null {
  const { integratedLufs, truePeakDbtp, isLimited = false } = track;
  if (integratedLufs === null || truePeakDbtp === null || model.integratedLufs === null || isLimited)
    return null;
  const gainDb = roundDown(model.integratedLufs + model.gainDb - integratedLufs);
  const mostDb = truePeakDbtp + gainDb - ceilingDbtp;
  if (mostDb < 0.05) return null;
  const over = 10 ** ((ceilingDbtp - gainDb) / 20);
  let [times, isOver] = [0, false];
  for (let i = 0; i < outline.length; i++) {
    const was = isOver;
    isOver = outline.over(i, i + 1).peak > over;
    if (isOver && !was) times++;
  }
  // Between samples it comes over at least once.
  return { gainDb, mostDb, times: Math.max(1, times) };
}

/** What is known of a track's level before its gain. */
export interface TrackLevel {
  /** null: silent, or not measured. */
  readonly integratedLufs: number | null;
  readonly truePeakDbtp: number | null;
  readonly gainDb: number;
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
  return tracks.map(({ integratedLufs, truePeakDbtp, gainDb }, i) => {
    if (i === reference || integratedLufs === null) return gainDb;
    const room = truePeakDbtp === null ? Infinity : ceilingDbtp - truePeakDbtp;
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

import { rangeOf, valueAt, type Band, type MovingDb } from '@oiseau/audio/stages';
import { figure, t } from '../ui/messages.js';

export const BAND_KINDS = {
  bell: t('Bell'),
  'low-shelf': t('Low shelf'),
  'high-shelf': t('High shelf'),
  'low-cut': t('Low cut'),
  'high-cut': t('High cut'),
} as const;
export type BandKind = Band['kind'];

export const newBand = (hz = 1000, db = 0): Band => ({ kind: 'bell', hz, db, q: 1 });

/** A band of another kind, with what both kinds have. */
export function ofKind(band: Band, kind: BandKind): Band {
  const { hz } = band;
  if (kind === 'low-cut' || kind === 'high-cut')
    return { kind, hz, slope: 'slope' in band ? band.slope : 12 };
  const lifting = 'db' in band ? { db: band.db, q: band.q } : { db: 0, q: 0.7 };
  return { kind, hz, ...lifting };
}

/** Where the handle of a band stands: at what it lifts at a moment, in seconds of the master; a cut’s on the line. */
export const handleDb = (band: Band, seconds: number): number =>
  'db' in band ? valueAt(band.db, 1000)(1000 * seconds) : 0;

/** The most that a band lifts or cuts, dB. */
export function farthestDb(band: Band): number {
  if (!('db' in band)) return 0;
  const { least, most } = rangeOf(band.db);
  return Math.max(Math.abs(least), Math.abs(most));
}

/** A moving value lifted as a whole; within its range. */
export function shifted(value: MovingDb, by: number, least: number, most: number): MovingDb {
  const kept = (db: number): number => tidy(Math.max(least, Math.min(most, db + by)));
  return typeof value === 'number' ? kept(value) : value.map(({ at, db }) => ({ at, db: kept(db) }));
}

/** Hundredths are as fine as anybody types. */
export const tidy = (value: number): number => Math.round(value * 100) / 100;

/** Hertz as people write them: three digits. */
export const tidyHz = (hz: number): number => {
  const kept = Math.max(10, Math.min(40_000, hz));
  const step = 10 ** Math.max(0, Math.floor(Math.log10(kept)) - 2);
  return Math.round(kept / step) * step;
};

/** `1.25 kHz`, `80 Hz` */
export const formatHz = (hz: number): string =>
  hz >= 1000 ? figure(`${Number((hz / 1000).toFixed(2))} kHz`) : figure(`${Number(hz.toFixed(1))} Hz`);

/** Hertz from `1.2k`, `1.2 kHz`, `80`; NaN for anything else. */
export function readHz(text: string): number {
  const found = /^\s*(\d+(?:[.,]\d+)?)\s*(k?)\s*(?:hz)?\s*$/i.exec(text);
  return found ? Number(found[1]?.replace(',', '.')) * (found[2] ? 1000 : 1) : NaN;
}

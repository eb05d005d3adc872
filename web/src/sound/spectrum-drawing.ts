import { responseDb, type Band } from '@oiseau/audio/stages';
import { THIRD_OCTAVES_HZ } from '@oiseau/audio/measure';
import type { Draw } from '../ui/canvas.js';
import type { SpectrumRow } from '../masters/spectrum-rows.js';
import { t } from '../ui/messages.js';

/** The picture reaches over what is heard. */
const LOWEST_HZ = 20;
const HIGHEST_HZ = 20_000;
const OCTAVES = Math.log2(HIGHEST_HZ / LOWEST_HZ);
/** Room for the figures below and at the right. */
const FOOT = 18;
const HEAD = 6;
const STEP_PX = 3;

/** Where a frequency lies, 0 at the left to 1 at the right; and back. */
export const shareOfHz = (hz: number): number => Math.log2(hz / LOWEST_HZ) / OCTAVES;
export const hzOfShare = (share: number): number => LOWEST_HZ * 2 ** (share * OCTAVES);

/** How far up and down the picture of the curve reaches, dB: as little as holds every band. */
export const reachOf = (lifts: readonly number[]): number =>
  lifts.some((db) => Math.abs(db) > 11) ? 24 : lifts.some((db) => Math.abs(db) > 5.5) ? 12 : 6;

/** Where a lift stands in a picture so high, and back. */
export const yOfDb = (db: number, height: number, reach: number): number =>
  HEAD + ((height - FOOT - HEAD) * (reach - db)) / (2 * reach);
export const dbOfY = (y: number, height: number, reach: number): number =>
  reach - ((y - HEAD) * 2 * reach) / (height - FOOT - HEAD);

export interface SpectrumPicture {
  /** As the song came, against the others. */
  readonly rows: readonly SpectrumRow[];
  /** As it is now, for each third octave; empty while that is not known. */
  readonly now: readonly (number | null)[];
  readonly bands: readonly Band[];
  readonly reach: number;
  /** The moment for which the curve is drawn, seconds of the master. */
  readonly seconds: number;
}

const MARKS_HZ = [31.5, 63, 125, 250, 500, 1000, 2000, 4000, 8000, 16_000];

/** Spectra behind, all at the same loudness, so that only their balance differs; the wanted change before them. */
export function drawSpectrum({ rows, now, bands, reach, seconds }: SpectrumPicture): Draw {
  const levels = [...rows.flatMap(({ own, others }) => [own, ...(others ?? [])]), ...now].flatMap(
    (level) => level ?? [],
  );
  const highest = Math.max(-10, ...levels);
  const lowest = Math.max(highest - 70, Math.min(highest - 30, ...levels));
  return (context, width, height, { ink, soft, rule, accent, muted }) => {
    context.clearRect(0, 0, width, height);
    const x = (hz: number): number => width * shareOfHz(hz);
    const spectrumY = (db: number): number =>
      HEAD + ((height - FOOT - HEAD) * (highest - db)) / (highest - lowest);
    context.font = '11px var(--oi-font, sans-serif)';
    context.textBaseline = 'bottom';
    context.textAlign = 'center';
    for (const hz of MARKS_HZ) {
      context.fillStyle = rule;
      context.fillRect(Math.round(x(hz)), HEAD, 1, height - FOOT - HEAD);
      context.fillStyle = muted;
      context.fillText(hz >= 1000 ? t('{hz} k', { hz: hz / 1000 }) : String(hz), x(hz), height - 2);
    }
    // The range of the others.
    const span = rows.filter(({ others }) => others !== null);
    context.fillStyle = soft;
    context.globalAlpha = 0.4;
    context.beginPath();
    span.forEach(({ hz, others }) => context.lineTo(x(hz), spectrumY(others?.[1] ?? 0)));
    [...span].reverse().forEach(({ hz, others }) => context.lineTo(x(hz), spectrumY(others?.[0] ?? 0)));
    context.fill();
    context.globalAlpha = 1;
    const line = (values: readonly (readonly [number, number | null])[]): void => {
      context.beginPath();
      for (const [hz, level] of values) if (level !== null) context.lineTo(x(hz), spectrumY(level));
      context.stroke();
    };
    context.lineWidth = 1.5;
    context.strokeStyle = muted;
    context.setLineDash([4, 3]);
    line(rows.map(({ hz, own }) => [hz, own]));
    context.setLineDash([]);
    context.strokeStyle = ink;
    line(THIRD_OCTAVES_HZ.map((hz, i) => [hz, now[i] ?? null]));
    // The wanted change.
    context.fillStyle = rule;
    context.textAlign = 'right';
    for (const db of [-reach / 2, 0, reach / 2]) {
      const y = yOfDb(db, height, reach);
      context.fillStyle = rule;
      context.fillRect(0, Math.round(y), width, 1);
      context.fillStyle = accent;
      context.fillText(`${db > 0 ? '+' : db < 0 ? '−' : ''}${Math.abs(db)} dB`, width - 4, y - 1);
    }
    if (bands.length === 0) return;
    context.strokeStyle = accent;
    context.lineWidth = 2;
    context.beginPath();
    for (let at = 0; at <= width; at += STEP_PX)
      context.lineTo(at, yOfDb(responseDb(bands, hzOfShare(at / width), seconds), height, reach));
    context.stroke();
  };
}

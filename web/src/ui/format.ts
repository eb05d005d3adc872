import { decibelText } from '@oiseau/audio/dsp';
import {
  FRAMES_PER_SECOND,
  formatClock,
  formatMsf,
  frames,
  samples,
  samplesToTicks,
} from '@oiseau/audio/time';
import { t } from './messages.js';

/** `24.3 MB`, in powers of ten as disks are sold. */
export function formatBytes(bytes: number): string {
  if (bytes < 1000) return t('{bytes} bytes', { bytes });
  const power = Math.min(4, Math.floor(Math.log10(bytes) / 3));
  const value = bytes / 1000 ** power;
  return t('{toFixed} {value}', {
    toFixed: value.toFixed(value < 100 ? 1 : 0),
    value: ['', 'kB', 'MB', 'GB', 'TB'][power],
  });
}

/** `−1.20`, with a real minus sign; a dash for what does not exist. @param limit a value over it never reads like it */
export const formatDb = (value: number | null, decimals = 1, limit?: number): string =>
  value === null ? '–' : decibelText(value, decimals, limit);

/** A place in a master as a clock shows it, to the millisecond: `0:42.310`. */
export const formatPlace = (sample: number, rate: number): string =>
  formatClock(samplesToTicks(samples(sample), rate), 3);

/** `44.1 kHz` */
export const formatRate = (hz: number): string =>
  t('{frequency} kHz', { frequency: Number((hz / 1000).toFixed(3)) });

/** A disc's time as people say it, in minutes and seconds: `7:34`, `79:57`. */
export function formatDiscTime(value: number): string {
  const wholeSeconds = Math.round(value / FRAMES_PER_SECOND) * FRAMES_PER_SECOND;
  return formatMsf(frames(wholeSeconds))
    .slice(0, -3)
    .replace(/^0(?=\d)/, '');
}

/** `about 12 s`, `about 3 min` */
export function formatWait(seconds: number): string {
  if (seconds < 1) return t('almost done');
  return seconds < 90
    ? t('about {seconds} s left', { seconds: Math.ceil(seconds) })
    : t('about {minutes} min left', { minutes: Math.round(seconds / 60) });
}

/** Dates and large numbers are written as the reader's browser writes them; where there is none, as in British English. */
const reader = (): string => globalThis.navigator?.language || 'en-GB';

/** `12,345`, as the reader writes it. */
export const formatCount = (n: number): string => n.toLocaleString(reader());

const DAY_MS = 86_400_000;
const NEAR_DAYS: Readonly<Record<number, string>> = { [-1]: t('yesterday'), 0: t('today'), 1: t('tomorrow') };

/** `today, 14:05`, `yesterday, 9:30`, `tomorrow, 22:59`, `3 Nov 2026` */
export function formatWhen(iso: string, now: Date): string {
  const date = new Date(iso);
  const time = date.toLocaleTimeString(reader(), { hour: 'numeric', minute: '2-digit' });
  // Days of the calendar: where the clock is put forward or back, one has another length.
  const dayOf = (of: Date): number => Date.UTC(of.getFullYear(), of.getMonth(), of.getDate()) / DAY_MS;
  const word = NEAR_DAYS[dayOf(date) - dayOf(now)];
  if (word) return t('{word}, {time}', { word, time });
  return date.toLocaleDateString(reader(), { day: 'numeric', month: 'short', year: 'numeric' });
}

/** `25 November 2026, 14:05`: a date for paper, on which no day is today. */
export function formatDate(iso: string): string {
  const date = new Date(iso);
  const time = date.toLocaleTimeString(reader(), { hour: 'numeric', minute: '2-digit' });
  return t('{toLocaleDateString}, {time}', {
    toLocaleDateString: date.toLocaleDateString(reader(), { day: 'numeric', month: 'long', year: 'numeric' }),
    time,
  });
}

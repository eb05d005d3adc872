import { decibelText } from '@oiseau/audio/dsp';
import {
  FRAMES_PER_SECOND,
  formatClock,
  formatMsf,
  frames,
  samples,
  samplesToTicks,
  type Ticks,
} from '@oiseau/audio/time';
import { figure, locale, t } from './messages.js';

/** `24.3 MB`, in powers of ten as disks are sold. */
export function formatBytes(bytes: number): string {
  if (bytes < 1000) return t('{bytes} bytes', { bytes });
  const power = Math.min(4, Math.floor(Math.log10(bytes) / 3));
  const value = bytes / 1000 ** power;
  return figure(`${value.toFixed(value < 100 ? 1 : 0)} ${['', 'kB', 'MB', 'GB', 'TB'][power]}`);
}

/** `−1.20`, with a real minus sign; a dash for what does not exist. @param limit a value over it never reads like it */
export const formatDb = (value: number | null, decimals = 1, limit?: number): string =>
  value === null ? '–' : figure(decibelText(value, decimals, limit));

/** Time on a clock: `3:02`, with decimals `3:02.500`. */
export const clockText = (time: Ticks, decimals = 0): string => figure(formatClock(time, decimals));

/** A place in a master as a clock shows it, to the millisecond: `0:42.310`. */
export const formatPlace = (sample: number, rate: number): string =>
  clockText(samplesToTicks(samples(sample), rate), 3);

/** `44.1 kHz` */
export const formatRate = (hz: number): string => figure(`${Number((hz / 1000).toFixed(3))} kHz`);

/** `1.50`, with a real minus sign. @param decimals digits after the point */
export const formatNumber = (value: number, decimals: number): string => figure(decibelText(value, decimals));

/** `−1.5`, with as many digits as it has. */
export const formatPlain = (value: number): string => figure(String(value).replace('-', '−'));

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

/** `Japanese`, `Japanisch`. @param code BCP 47 */
export const languageName = (code: string): string =>
  new Intl.DisplayNames([locale], { type: 'language' }).of(code) ?? code;

/** `12,345`, as the reader writes it. */
export const formatCount = (n: number): string => n.toLocaleString(locale);

const DAY_MS = 86_400_000;
const NEAR_DAYS: Readonly<Record<number, (time: string) => string>> = {
  [-1]: (time) => t('yesterday, {time}', { time }),
  0: (time) => t('today, {time}', { time }),
  1: (time) => t('tomorrow, {time}', { time }),
};

/** `today, 14:05`, `yesterday, 9:30`, `tomorrow, 22:59`, `3 Nov 2026` */
export function formatWhen(iso: string, now: Date): string {
  const date = new Date(iso);
  const time = date.toLocaleTimeString(locale, { hour: 'numeric', minute: '2-digit' });
  // Days of the calendar: where the clock is put forward or back, one has another length.
  const dayOf = (of: Date): number => Date.UTC(of.getFullYear(), of.getMonth(), of.getDate()) / DAY_MS;
  const near = NEAR_DAYS[dayOf(date) - dayOf(now)];
  if (near) return near(time);
  return date.toLocaleDateString(locale, { day: 'numeric', month: 'short', year: 'numeric' });
}

/** `25 November 2026, 14:05`: a date for paper, on which no day is today. */
export function formatDate(iso: string): string {
  const date = new Date(iso);
  const day = date.toLocaleDateString(locale, { day: 'numeric', month: 'long', year: 'numeric' });
  return `${day}, ${date.toLocaleTimeString(locale, { hour: 'numeric', minute: '2-digit' })}`;
}

import { floorToFrame, formatMsf, ticksToSeconds, type Ticks } from '@oiseau/audio/time';
import { hiddenSong, type Album, type Song } from '@oiseau/album/model';
import { clockText, formatDb, formatNumber, formatPlain } from '../ui/format.js';
import { t } from '../ui/messages.js';
import { shapeWords } from './fade-words.js';

/** `1.667 s`, `−3 s`: as short as it is exact to a thousandth. */
export function secondsText(time: Ticks): string {
  const seconds = Number(ticksToSeconds(time).toFixed(3));
  return t('{seconds} s', { seconds: formatPlain(seconds) });
}

/** What an edit changed of the songs, in words for the list of undo; several changes are named one after the other. */
export function changeWords(before: Album, after: Album): string {
  const earlier = new Map(before.songs.map((song) => [song.id, song]));
  const words = after.songs.flatMap((song) => {
    const was = earlier.get(song.id);
    if (!was || was === song) return [];
    return songWords(was, song);
  });
  const [hidden, shown] = [hiddenSong(after), hiddenSong(before)];
  if (hidden && !shown) words.push(t('“{title}” hidden before track 1', { title: hidden.title }));
  if (shown && !hidden) words.push(t('“{title}” shown as track 1', { title: shown.title }));
  if (before.markLead !== after.markLead)
    words.push(
      t('mark lead {from} → {to}', { from: secondsText(before.markLead), to: secondsText(after.markLead) }),
    );
  return words.join(', ') || t('spacing');
}

function songWords({ region: was, marks: old }: Song, { region, marks, title }: Song): string[] {
  const name = `“${title || t('Untitled')}”`;
  const change = (
    words: (values: { name: string; from: string; to: string }) => string,
    from: string,
    to: string,
  ): string[] => (from === to ? [] : [words({ name, from, to })]);
  const place = (time: Ticks | null): string => (time === null ? t('end') : clockText(time, 3));
  const own = (time: Ticks | null): string => (time === null ? t('default') : secondsText(time));
  const tempo = ({ tempo: of }: Song['marks']): string =>
    of ? t('{tempo} in {bar}', { tempo: formatNumber(of.bpm, 1), bar: of.bar }) : t('none');
  return [
    ...change(
      (values) => t('gap before {name} {from} → {to}', values),
      secondsText(was.gapBefore),
      secondsText(region.gapBefore),
    ),
    ...change((values) => t('in point of {name} {from} → {to}', values), place(was.in), place(region.in)),
    ...change((values) => t('out point of {name} {from} → {to}', values), place(was.out), place(region.out)),
    ...change(
      (values) => t('fade-in of {name} {from} → {to}', values),
      secondsText(was.fadeIn.length),
      secondsText(region.fadeIn.length),
    ),
    ...change(
      (values) => t('fade-in of {name} {from} → {to}', values),
      shapeWords(was.fadeIn.shape),
      shapeWords(region.fadeIn.shape),
    ),
    ...change(
      (values) => t('fade-out of {name} {from} → {to}', values),
      secondsText(was.fadeOut.length),
      secondsText(region.fadeOut.length),
    ),
    ...change(
      (values) => t('fade-out of {name} {from} → {to}', values),
      shapeWords(was.fadeOut.shape),
      shapeWords(region.fadeOut.shape),
    ),
    ...change(
      (values) => t('gain of {name} {from} → {to}', values),
      t('{level} dB', { level: formatDb(was.gainDb) }),
      t('{level} dB', { level: formatDb(region.gainDb) }),
    ),
    ...change(
      (values) => t('mark lead of {name} {from} → {to}', values),
      own(old.markLead),
      own(marks.markLead),
    ),
    ...(old.pauseDelay === marks.pauseDelay ? [] : [t('pause before {name} moved', { name })]),
    ...indexWords(name, old.indexes, marks.indexes),
    ...change((values) => t('tempo of {name} {from} → {to}', values), tempo(old), tempo(marks)),
    ...(old.tempo && marks.tempo && old.tempo.beat !== marks.tempo.beat
      ? [t('beat of {name} moved', { name })]
      : []),
  ];
}

function indexWords(name: string, was: readonly Ticks[], now: readonly Ticks[]): string[] {
  const place = (time: Ticks): string => formatMsf(floorToFrame(time));
  return [
    ...now
      .filter((time) => !was.includes(time))
      .map((time) => t('index at {place} added to {name}', { place: place(time), name })),
    ...was
      .filter((time) => !now.includes(time))
      .map((time) => t('index at {place} removed from {name}', { place: place(time), name })),
  ];
}

import { floorToFrame, formatClock, formatMsf, ticksToSeconds, type Ticks } from '@oiseau/audio/time';
import { hiddenSong, type Album, type Song } from '@oiseau/album/model';
import { formatDb } from '../ui/format.js';

/** `1.667 s`, `−3 s`: as short as it is exact to a thousandth. */
export function secondsText(time: Ticks): string {
  const text = Number(ticksToSeconds(time).toFixed(3)).toString();
  return `${text.replace('-', '−')} s`;
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
  if (hidden && !shown) words.push(`“${hidden.title}” hidden before track 1`);
  if (shown && !hidden) words.push(`“${shown.title}” shown as track 1`);
  if (before.markLead !== after.markLead)
    words.push(`mark lead ${secondsText(before.markLead)} → ${secondsText(after.markLead)}`);
  return words.join(', ') || 'spacing';
}

function songWords({ region: was, marks: old }: Song, { region, marks, title }: Song): string[] {
  const name = `“${title || 'Untitled'}”`;
  const change = (what: string, from: string, to: string): string[] =>
    from === to ? [] : [`${what} ${name} ${from} → ${to}`];
  const place = (time: Ticks | null): string => (time === null ? 'end' : formatClock(time, 3));
  const own = (time: Ticks | null): string => (time === null ? 'default' : secondsText(time));
  const tempo = ({ tempo: of }: Song['marks']): string => (of ? `${of.bpm.toFixed(1)} in ${of.bar}` : 'none');
  return [
    ...change('gap before', secondsText(was.gapBefore), secondsText(region.gapBefore)),
    ...change('in point of', place(was.in), place(region.in)),
    ...change('out point of', place(was.out), place(region.out)),
    ...change('fade-in of', secondsText(was.fadeIn.length), secondsText(region.fadeIn.length)),
    ...change('fade-in of', was.fadeIn.shape, region.fadeIn.shape),
    ...change('fade-out of', secondsText(was.fadeOut.length), secondsText(region.fadeOut.length)),
    ...change('fade-out of', was.fadeOut.shape, region.fadeOut.shape),
    ...change('gain of', `${formatDb(was.gainDb)} dB`, `${formatDb(region.gainDb)} dB`),
    ...change('mark lead of', own(old.markLead), own(marks.markLead)),
    ...(old.pauseDelay === marks.pauseDelay ? [] : [`pause before ${name} moved`]),
    ...indexWords(old.indexes, marks.indexes).map((what) => `${what} ${name}`),
    ...change('tempo of', tempo(old), tempo(marks)),
    ...(old.tempo && marks.tempo && old.tempo.beat !== marks.tempo.beat ? [`beat of ${name} moved`] : []),
  ];
}

function indexWords(was: readonly Ticks[], now: readonly Ticks[]): string[] {
  const place = (time: Ticks): string => formatMsf(floorToFrame(time));
  return [
    ...now.filter((time) => !was.includes(time)).map((time) => `index at ${place(time)} added to`),
    ...was.filter((time) => !now.includes(time)).map((time) => `index at ${place(time)} removed from`),
  ];
}

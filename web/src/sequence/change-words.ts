import {
  floorToFrame,
  formatClock,
  formatMsf,
  sounding,
  ticksToSeconds,
  type Album,
  type Ticks,
  type Track,
} from '@oiseau/core';
import { formatDb } from '../ui/format.js';

/** `1.667 s`, `−3 s`: as short as it is exact to a thousandth. */
export function secondsText(time: Ticks): string {
  const text = Number(ticksToSeconds(time).toFixed(3)).toString();
  return `${text.replace('-', '−')} s`;
}

/** What an edit changed of the songs, in words for the list of undo; several changes are named one after the other. */
export function changeWords(before: Album, after: Album): string {
  const earlier = new Map(sounding(before).map((track) => [track.id, track]));
  const words = sounding(after).flatMap((track) => {
    const was = earlier.get(track.id);
    if (!was || was === track) return [];
    return songWords(was, track);
  });
  if (!before.hidden && after.hidden) words.push(`“${after.hidden.title}” hidden before track 1`);
  if (before.hidden && !after.hidden) words.push(`“${before.hidden.title}” shown as track 1`);
  if (before.markLead !== after.markLead)
    words.push(`mark lead ${secondsText(before.markLead)} → ${secondsText(after.markLead)}`);
  return words.join(', ') || 'spacing';
}

function songWords(was: Track, track: Track): string[] {
  const name = `“${track.title || 'Untitled'}”`;
  const change = (what: string, from: string, to: string): string[] =>
    from === to ? [] : [`${what} ${name} ${from} → ${to}`];
  const place = (time: Ticks | null): string => (time === null ? 'end' : formatClock(time, 3));
  const own = (time: Ticks | null): string => (time === null ? 'as the album' : secondsText(time));
  const tempo = ({ tempo: of }: Track): string => (of ? `${of.bpm.toFixed(1)} in ${of.bar}` : 'none');
  return [
    ...change('gap before', secondsText(was.gapBefore), secondsText(track.gapBefore)),
    ...change('in point of', place(was.in), place(track.in)),
    ...change('out point of', place(was.out), place(track.out)),
    ...change('fade-in of', secondsText(was.fadeIn.length), secondsText(track.fadeIn.length)),
    ...change('fade-in of', was.fadeIn.shape, track.fadeIn.shape),
    ...change('fade-out of', secondsText(was.fadeOut.length), secondsText(track.fadeOut.length)),
    ...change('fade-out of', was.fadeOut.shape, track.fadeOut.shape),
    ...change('gain of', `${formatDb(was.gainDb)} dB`, `${formatDb(track.gainDb)} dB`),
    ...change('mark lead of', own(was.markLead), own(track.markLead)),
    ...(was.pauseDelay === track.pauseDelay ? [] : [`pause before ${name} moved`]),
    ...indexWords(was.indexes, track.indexes).map((what) => `${what} ${name}`),
    ...change('tempo of', tempo(was), tempo(track)),
    ...(was.tempo && track.tempo && was.tempo.beat !== track.tempo.beat ? [`beat of ${name} moved`] : []),
  ];
}

function indexWords(was: readonly Ticks[], now: readonly Ticks[]): string[] {
  const place = (time: Ticks): string => formatMsf(floorToFrame(time));
  return [
    ...now.filter((time) => !was.includes(time)).map((time) => `index at ${place(time)} set in`),
    ...was.filter((time) => !now.includes(time)).map((time) => `index at ${place(time)} taken out of`),
  ];
}

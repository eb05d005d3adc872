import { formatClock, ticksToSeconds, type Album, type Ticks } from '@oiseau/core';

/** `1.667 s`, `−3 s`: as short as it is exact to a thousandth. */
export function secondsText(time: Ticks): string {
  const text = Number(ticksToSeconds(time).toFixed(3)).toString();
  return `${text.replace('-', '−')} s`;
}

/** What an edit of a transition changed, in words for the list of undo; several changes are named one after the other. */
export function changeWords(before: Album, after: Album): string {
  const words = after.tracks.flatMap((track, i) => {
    const was = before.tracks[i];
    if (!was || was === track) return [];
    const name = `“${track.title || `track ${i + 1}`}”`;
    const change = (what: string, from: string, to: string): string[] =>
      from === to ? [] : [`${what} ${name} ${from} → ${to}`];
    const place = (time: Ticks | null): string => (time === null ? 'end' : formatClock(time, 3));
    return [
      ...change('gap before', secondsText(was.gapBefore), secondsText(track.gapBefore)),
      ...change('in point of', place(was.in), place(track.in)),
      ...change('out point of', place(was.out), place(track.out)),
      ...change('fade-in of', secondsText(was.fadeIn.length), secondsText(track.fadeIn.length)),
      ...change('fade-in of', was.fadeIn.shape, track.fadeIn.shape),
      ...change('fade-out of', secondsText(was.fadeOut.length), secondsText(track.fadeOut.length)),
      ...change('fade-out of', was.fadeOut.shape, track.fadeOut.shape),
    ];
  });
  return words.join(', ') || 'spacing';
}

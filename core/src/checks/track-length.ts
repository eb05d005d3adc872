import { frames } from '../time/frames.js';
import type { Finding, Rule } from './finding.js';

/** Four seconds [IEC 60908]. */
const SHORTEST = frames(300);

/** From index 01 to the next pause, start mark or lead-out a track lasts 4 s, and its index points lie inside, in order. */
export const trackLength: Rule = ({ layout }) =>
  layout.tracks.flatMap(({ startMark, indexes }, track): Finding[] => {
    const next = layout.tracks[track + 1];
    const end = next ? (next.pause ?? next.startMark) : layout.leadOut;
    const found: Finding[] = [];
    const length = frames(end - startMark);
    if (length < SHORTEST) found.push({ code: 'track-short', severity: 'error', track, length });
    const stray = indexes.findIndex((at, i) => at <= (indexes[i - 1] ?? startMark) || at >= end);
    if (stray >= 0) found.push({ code: 'index-outside-track', severity: 'error', track, index: stray + 2 });
    return found;
  });

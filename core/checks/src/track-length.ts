import { frames } from '@oiseau/audio/time';
import type { Finding, Rule } from './finding.js';

/** Four seconds [IEC 60908]. */
const SHORTEST = frames(300);

/** From index 01 to the next pause, start mark or lead-out a track lasts 4 s, and its index points lie inside, in order. */
export const trackLength: Rule = ({ parts }) =>
  parts.flatMap(({ disc }) => {
    const marked = [...(disc?.tracks ?? [])];
    return marked.flatMap(([song, { start, indexes }], i): Finding[] => {
      const next = marked[i + 1]?.[1];
      const end = next ? (next.pause ?? next.start) : (disc?.leadOut ?? start);
      const found: Finding[] = [];
      const length = frames(end - start);
      if (length < SHORTEST) found.push({ code: 'track-short', severity: 'error', song, length });
      const stray = indexes.findIndex((at, place) => at <= (indexes[place - 1] ?? start) || at >= end);
      if (stray >= 0) found.push({ code: 'index-outside-track', severity: 'error', song, index: stray + 2 });
      return found;
    });
  });

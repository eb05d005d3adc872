import type { Finding, Rule } from './finding.js';

/** At most two tracks sound at once, and none ends before the one before it has ended (trade.md 3.1). */
export const overlaps: Rule = ({ layout }) =>
  layout.tracks.flatMap(({ audioStart, audioEnd }, track): Finding[] => {
    const before = layout.tracks[track - 1];
    const earlier = layout.tracks.slice(0, Math.max(0, track - 1));
    const third = earlier.some((other) => other.audioEnd > audioStart);
    const swallowed = before !== undefined && (audioEnd < before.audioEnd || audioStart < before.audioStart);
    return third || swallowed || audioStart < 0
      ? [{ code: 'overlap-over-two', severity: 'error', track }]
      : [];
  });

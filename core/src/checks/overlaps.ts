import { sounding, type PlacedAudio } from '../album/sequence.js';
import type { Finding, Rule } from './finding.js';

/** At most two tracks sound at once, and none ends before the one before it has ended (trade.md 3.1). */
export const overlaps: Rule = ({ layout }) =>
  sounding<PlacedAudio>(layout).flatMap(({ audioStart, audioEnd }, i, all): Finding[] => {
    const track = layout.hidden ? i - 1 : i;
    const before = all[i - 1];
    const earlier = all.slice(0, Math.max(0, i - 1));
    const third = earlier.some((other) => other.audioEnd > audioStart);
    const swallowed = before !== undefined && (audioEnd < before.audioEnd || audioStart < before.audioStart);
    return third || swallowed || audioStart < 0
      ? [{ code: 'overlap-over-two', severity: 'error', track }]
      : [];
  });

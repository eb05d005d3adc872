import { frames, framesToTicks } from '../time/frames.js';
import { ticks } from '../time/ticks.js';
import type { Finding, Rule } from './finding.js';

const ONE = frames(1);

/** Where two songs do not overlap, the start mark of the second does not stand inside the first. */
export const startMarks: Rule = ({ layout }) =>
  layout.tracks.flatMap(({ startMark, audioStart }, track): Finding[] => {
    const before = track === 0 ? layout.hidden : layout.tracks[track - 1];
    if (!before || audioStart < before.audioEnd) return [];
    // A mark is rounded down to a frame: less than one before the end is no more than that.
    const by = ticks(before.audioEnd - framesToTicks(startMark));
    return by >= framesToTicks(ONE) ? [{ code: 'mark-in-song-before', severity: 'warning', track, by }] : [];
  });

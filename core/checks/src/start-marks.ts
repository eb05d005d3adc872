import { frames, framesToTicks, ticks } from '@oiseau/audio/time';
import type { Finding, Rule } from './finding.js';

const ONE = frames(1);

/** Where two songs do not overlap, the start mark of the second does not stand inside the first. */
export const startMarks: Rule = ({ parts }) =>
  parts.flatMap(({ disc, placement }) => {
    const all = [...placement.songs];
    return all.flatMap(([song, { start }], i): Finding[] => {
      const before = all[i - 1]?.[1];
      const mark = disc?.tracks.get(song);
      if (!before || !mark || start < before.end) return [];
      // A mark is rounded down to a frame: less than one before the end is no more than that.
      const by = ticks(before.end - framesToTicks(mark.start));
      return by >= framesToTicks(ONE) ? [{ code: 'mark-in-song-before', severity: 'warning', song, by }] : [];
    });
  });

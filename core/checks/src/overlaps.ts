import type { Finding, Rule } from './finding.js';

/** At most two songs sound at once, and none ends before the one before it has ended (docs/rules.md 3.1). */
export const overlaps: Rule = ({ parts }) =>
  parts.flatMap(({ placement }) => {
    const all = [...placement.songs];
    return all.flatMap(([song, { start, end }], i): Finding[] => {
      const before = all[i - 1]?.[1];
      const earlier = all.slice(0, Math.max(0, i - 1));
      const third = earlier.some(([, other]) => other.end > start);
      const swallowed = before !== undefined && (end < before.end || start < before.start);
      return third || swallowed || start < 0 ? [{ code: 'overlap-over-two', severity: 'error', song }] : [];
    });
  });

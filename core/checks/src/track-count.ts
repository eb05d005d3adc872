import type { Finding, Rule } from './finding.js';

/** A disc has 1 to 99 tracks [IEC 60908]. */
export const trackCount: Rule = ({ parts }) =>
  parts.flatMap(({ number: part, tracks, kind }): Finding[] => {
    const count = tracks.length;
    if (count === 0) return [{ code: 'no-tracks', severity: 'error' }];
    return count > 99 && kind === 'disc' ? [{ code: 'too-many-tracks', severity: 'error', part, count }] : [];
  });

import type { Rule } from './finding.js';

/** A disc has 1 to 99 tracks [IEC 60908]. */
export const trackCount: Rule = ({ album }) => {
  const count = album.tracks.length;
  if (count === 0) return [{ code: 'no-tracks', severity: 'error' }];
  return count > 99 ? [{ code: 'too-many-tracks', severity: 'error', count }] : [];
};

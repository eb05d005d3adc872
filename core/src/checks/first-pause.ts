import { FIRST_PAUSE_FRAMES, framesToTicks } from '../time/frames.js';
import type { Rule } from './finding.js';

/** The first pause lasts at least two seconds before anything sounds [IEC 60908]. */
export const firstPause: Rule = ({ layout }) => {
  const start = (layout.hidden ?? layout.tracks[0])?.audioStart;
  if (start === undefined || start >= framesToTicks(FIRST_PAUSE_FRAMES)) return [];
  return [{ code: 'first-pause-short', severity: 'error', pause: start }];
};

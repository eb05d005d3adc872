import { frames } from '../time/frames.js';
import type { Rule } from './finding.js';

/** What most plants take: 79:57:00 (trade.md 2). */
export const COMMON_LIMIT = frames((79 * 60 + 57) * 75);
/** Where the time code of a disc ends: 79:59:74. */
export const LAST_FRAME = frames(80 * 60 * 75 - 1);

/** The lead-out stands at 79:59:74 at the latest; past 79:57 many plants refuse. */
export const discLength: Rule = ({ layout }) => {
  if (layout.leadOut > LAST_FRAME)
    return [{ code: 'disc-too-long', severity: 'error', leadOut: layout.leadOut }];
  if (layout.leadOut > COMMON_LIMIT)
    return [{ code: 'disc-too-long', severity: 'warning', leadOut: layout.leadOut }];
  return [];
};

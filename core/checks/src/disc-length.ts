import { COMMON_LIMIT, cutsWell } from '@oiseau/album/model';
import { framesToTicks, frames } from '@oiseau/audio/time';
import type { Finding, Rule } from './finding.js';

/** Where the time code of a disc ends: 79:59:74. */
const LAST_FRAME = frames(80 * 60 * 75 - 1);

/** A lead-out stands at 79:59:74 at the latest, and past 79:57 (or the limit that was set) many plants refuse; a side is no longer than cuts well. */
export const discLength: Rule = ({ parts }) =>
  parts.flatMap(({ number: part, medium, disc, placement, limit }): Finding[] => {
    if (!disc) {
      const length = placement.end;
      if (length > limit) return [{ code: 'side-too-long', severity: 'warning', part, length, limit }];
      const well = cutsWell(medium);
      return length > well ? [{ code: 'side-long', severity: 'hint', part, length, limit: well }] : [];
    }
    const { leadOut } = disc;
    if (leadOut > LAST_FRAME) return [{ code: 'disc-too-long', severity: 'error', part, leadOut }];
    const most = Math.min(limit, framesToTicks(COMMON_LIMIT));
    return framesToTicks(leadOut) > most
      ? [{ code: 'disc-too-long', severity: 'warning', part, leadOut }]
      : [];
  });

import { FIRST_PAUSE_FRAMES, framesToTicks } from '@oiseau/audio/time';
import type { Finding, Rule } from './finding.js';

/** The first pause of a disc lasts at least two seconds before anything sounds [IEC 60908]. */
export const firstPause: Rule = ({ parts }) =>
  parts.flatMap(({ number: part, disc, placement }): Finding[] => {
    const [first] = placement.songs.values();
    if (!disc || !first || first.start >= framesToTicks(FIRST_PAUSE_FRAMES)) return [];
    return [{ code: 'first-pause-short', severity: 'error', part, pause: first.start }];
  });

import { trackAtIndex } from '../album/edit.js';
import { sounding } from '../album/sequence.js';
import { masterTicks } from '../album/resolve.js';
import { ticks } from '../time/ticks.js';
import type { Finding, Rule } from './finding.js';

/** Each track plays a stretch that its master has, and its fades fit into it. */
export const regions: Rule = ({ album, sequence, masters }) =>
  sounding(sequence).flatMap((region, i): Finding[] => {
    const track = album.hidden ? i - 1 : i;
    const found: Finding[] = [];
    const master = masters.get(trackAtIndex(album, track)?.master ?? '');
    const length = ticks(region.out - region.in);
    if (master && region.out > masterTicks(master)) {
      found.push({
        code: 'region-outside-master',
        severity: 'error',
        track,
        out: region.out,
        masterLength: masterTicks(master),
      });
    }
    if (length <= 0) return [...found, { code: 'region-empty', severity: 'error', track }];
    const fades = ticks(region.fadeIn.length + region.fadeOut.length);
    if (fades > length)
      found.push({ code: 'fades-too-long', severity: 'error', track, fades, region: length });
    return found;
  });

import { masterTicks } from '@oiseau/album/model';
import { ticks } from '@oiseau/audio/time';
import type { Finding, Rule } from './finding.js';

/** Each song plays a stretch that its master has, and its fades fit into it. */
export const regions: Rule = ({ parts, masters }) =>
  parts.flatMap(({ sequence }) =>
    sequence.songs.flatMap(({ id: song, region }): Finding[] => {
      const found: Finding[] = [];
      const master = masters.get(region.master);
      const length = ticks(region.out - region.in);
      if (master && region.out > masterTicks(master)) {
        found.push({
          code: 'region-outside-master',
          severity: 'error',
          song,
          out: region.out,
          masterLength: masterTicks(master),
        });
      }
      if (length <= 0) return [...found, { code: 'region-empty', severity: 'error', song }];
      const fades = ticks(region.fadeIn.length + region.fadeOut.length);
      if (fades > length)
        found.push({ code: 'fades-too-long', severity: 'error', song, fades, region: length });
      return found;
    }),
  );

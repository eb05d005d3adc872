import type { Finding, Rule } from './finding.js';
import { heardRegions } from './heard-region.js';
import { masterDoubts } from './master-doubts.js';

/** What is wrong with the masters themselves, as far as a track plays it. */
export const masterFaults: Rule = (subject) =>
  heardRegions(subject).flatMap(({ track, detail, measurement, from, until }) =>
    masterDoubts(detail).flatMap((doubt): Finding[] => {
      switch (doubt.code) {
        case 'clips': {
          const { rate } = detail.info;
          const heard = (measurement?.clipped ?? []).filter(
            ({ at }) => at / rate >= from && at / rate < until,
          );
          // Of many runs only the first are kept by their place.
          const all = measurement?.clipped.length === doubt.runs;
          const runs = all ? heard.length : doubt.runs;
          return runs > 0 ? [{ code: 'clipped', severity: 'warning', track, runs }] : [];
        }
        case 'lossy':
          return [{ code: 'lossy-master', severity: 'warning', track, codec: doubt.codec }];
        case 'inverted':
          return [{ code: 'channels-inverted', severity: 'warning', track, correlation: doubt.correlation }];
        case 'one-sided':
          return [{ code: 'one-sided', severity: 'warning', track }];
        default:
          return [];
      }
    }),
  );

import { isInside } from '../time/interval.js';
import type { Finding, Rule } from './finding.js';
import { heardRegions } from './heard-region.js';
import { masterDoubts } from './master-doubts.js';

/** What is wrong with the masters themselves, as far as a track plays it. */
export const masterFaults: Rule = (subject) =>
  heardRegions(subject).flatMap(({ song: { id: song }, detail, measurement, heard }) =>
    masterDoubts(detail).flatMap((doubt): Finding[] => {
      switch (doubt.code) {
        case 'clips': {
          const { rate } = detail.info;
          const inside = (measurement?.clipped ?? []).filter(({ at }) => isInside(heard, at / rate));
          // Of many runs only the first are kept by their place.
          const all = measurement?.clipped.length === doubt.runs;
          const runs = all ? inside.length : doubt.runs;
          return runs > 0 ? [{ code: 'clipped', severity: 'warning', song, runs }] : [];
        }
        case 'lossy':
          return [{ code: 'lossy-master', severity: 'warning', song, codec: doubt.codec }];
        case 'inverted':
          return [{ code: 'channels-inverted', severity: 'warning', song, correlation: doubt.correlation }];
        case 'one-sided':
          return [{ code: 'one-sided', severity: 'warning', song }];
        default:
          return [];
      }
    }),
  );

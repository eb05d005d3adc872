import type { Finding, Rule } from './finding.js';
import { clippedRuns, heardRegions } from './heard-region.js';
import { masterDoubts } from './master-doubts.js';

/** What is wrong with the masters themselves, as far as a track plays it. */
export const masterFaults: Rule = (subject) =>
  heardRegions(subject).flatMap((region) =>
    masterDoubts(region.detail).flatMap((doubt): Finding[] => {
      const song = region.song.id;
      switch (doubt.code) {
        case 'clips': {
          const runs = clippedRuns(region);
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

import { isLossy } from '../album/deliverable.js';
import type { Finding, Rule } from './finding.js';
import { heardRegions } from './heard-region.js';

/** Room that encoders with loss need, since what they give back overshoots (trade.md 6). */
const CEILING_DBTP = -1;

/** Where a deliverable is coded with loss, no track peaks over −1 dBTP; each track is told of once. */
export const lossyPeaks: Rule = (subject) => {
  const lossy = subject.album.deliverables.find(isLossy);
  if (!lossy) return [];
  return heardRegions(subject).flatMap(({ track, of, measurement }): Finding[] => {
    const peakDbtp = measurement?.truePeakDbtp == null ? null : measurement.truePeakDbtp + of.gainDb;
    return peakDbtp !== null && peakDbtp > CEILING_DBTP
      ? [{ code: 'lossy-peak', severity: 'warning', track, deliverable: lossy.name, peakDbtp }]
      : [];
  });
};

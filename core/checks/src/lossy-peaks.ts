import { isLossy } from '@oiseau/album/model';
import type { Finding, Rule } from './finding.js';
import { heardRegions } from './heard-region.js';

/** Room that encoders with loss need, since what they give back overshoots (docs/rules.md 6.2). */
export const CEILING_DBTP = -1;

/** Where a deliverable is coded with loss, no track peaks over −1 dBTP; each track is told of once. */
export const lossyPeaks: Rule = (subject) => {
  const lossy = subject.album.deliverables.find(isLossy);
  if (!lossy) return [];
  return heardRegions(subject).flatMap((heard): Finding[] => {
    const song = heard.song.id;
    const peakDbtp = heard.figures?.truePeakDbtp ?? null;
    return peakDbtp !== null && peakDbtp > CEILING_DBTP
      ? [{ code: 'lossy-peak', severity: 'warning', song, deliverable: lossy.name, peakDbtp }]
      : [];
  });
};

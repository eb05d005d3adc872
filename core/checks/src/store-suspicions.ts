import { heardRegions } from './heard-region.js';
import type { Finding, Rule } from './finding.js';
import { masterDoubts } from './master-doubts.js';

/** What Masters suspects of a file (a lossy source, a lower sample rate) is what a store looks for too: said of each package that would carry it. */
export const storeSuspicions: Rule = (subject) => {
  const packages = subject.album.deliverables.filter(({ kind }) => kind === 'package');
  if (packages.length === 0) return [];
  return heardRegions(subject).flatMap((region) =>
    masterDoubts(region.detail).flatMap((doubt): Finding[] =>
      doubt.code === 'lossy-past' || doubt.code === 'upsampled'
        ? packages.map(({ name }) => ({
            ...{ code: 'store-may-refuse', severity: 'warning', song: region.song.id },
            ...{ deliverable: name, doubt },
          }))
        : [],
    ),
  );
};

import { patternNames } from '../tags/file-names.js';
import type { Finding, Rule } from './finding.js';

/** No two files of a deliverable would have the same name; where they would, one gets a number. */
export const fileNames: Rule = ({ album, parts }) =>
  album.deliverables.flatMap((deliverable): Finding[] => {
    if (deliverable.kind !== 'tracks') return [];
    const { select, pattern, name: of } = deliverable;
    let track = 0;
    return parts.flatMap((part): Finding[] => {
      const names = patternNames(album, part, pattern, 1).filter(() => {
        track++;
        return !select || select.includes(track);
      });
      const seen = new Set<string>();
      const name = names.find((each) => seen.has(each.toLowerCase()) || !seen.add(each.toLowerCase()));
      return name === undefined ? [] : [{ code: 'names-alike', severity: 'hint', deliverable: of, name }];
    });
  });

import { patternNames } from '../tags/file-names.js';
import type { Finding, Rule } from './finding.js';

/** No two files of a deliverable would have the same name; where they would, one gets a number. */
export const fileNames: Rule = ({ album }) =>
  album.deliverables.flatMap((deliverable): Finding[] => {
    if (deliverable.kind !== 'tracks') return [];
    const { select, pattern, name: of } = deliverable;
    const names = patternNames(album, pattern, 1).filter((_, i) => !select || select.includes(i + 1));
    const seen = new Set<string>();
    const name = names.find((each) => seen.has(each.toLowerCase()) || !seen.add(each.toLowerCase()));
    return name === undefined ? [] : [{ code: 'names-alike', severity: 'hint', deliverable: of, name }];
  });

import { alternateOf, MAIN } from '@oiseau/album/model';
import { patternNames } from '@oiseau/formats/tags';
import type { Finding, Rule } from './finding.js';

/** Every file of a render has the same. */
const NO_REVISION = { revision: 1, revisionDate: '' };

/** No two files of a deliverable would have the same name; where they would, one gets a number. */
export const fileNames: Rule = ({ album, parts }) =>
  album.deliverables.flatMap((deliverable): Finding[] => {
    if (deliverable.kind !== 'tracks') return [];
    const { select, pattern, name: of, alternates } = deliverable;
    let before = 0;
    return parts.flatMap((part): Finding[] => {
      const names = alternates.flatMap((alternate) =>
        patternNames(album, part, pattern, NO_REVISION, alternate).filter((_, i) => {
          const track = part.tracks[i];
          const isThere = track && (alternate === MAIN || alternateOf(track, alternate));
          return isThere && (!select || select.includes(before + i + 1));
        }),
      );
      before += part.tracks.length;
      const seen = new Set<string>();
      const name = names.find((each) => seen.has(each.toLowerCase()) || !seen.add(each.toLowerCase()));
      return name === undefined ? [] : [{ code: 'names-alike', severity: 'hint', deliverable: of, name }];
    });
  });

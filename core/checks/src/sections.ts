import { placeInPart } from '@oiseau/formats/disc';
import type { Finding, Rule } from './finding.js';

/** A continuous file of a section begins before it ends, at marks that one of the parts has. */
export const sections: Rule = ({ album, parts }) =>
  album.deliverables.flatMap((deliverable): Finding[] => {
    if (deliverable.kind !== 'continuous' || album.songs.length === 0) return [];
    const { from, to, name } = deliverable;
    const there = parts.some((part) => {
      const start = from === null ? 0 : placeInPart(part, from);
      const end = to === null ? part.placement.end : placeInPart(part, to);
      return start !== null && end !== null && end > start;
    });
    return there ? [] : [{ code: 'section-empty', severity: 'error', deliverable: name }];
  });

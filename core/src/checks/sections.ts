import type { Finding, Rule } from './finding.js';
import { placeOnDisc } from '../disc/place.js';

/** A continuous file of a section begins before it ends, at marks that the album has. */
export const sections: Rule = ({ album, layout }) =>
  album.deliverables.flatMap((deliverable): Finding[] => {
    if (deliverable.kind !== 'continuous' || album.tracks.length === 0) return [];
    const { from, to, name } = deliverable;
    const start = from === null ? 0 : placeOnDisc(layout, from);
    const end = to === null ? layout.end : placeOnDisc(layout, to);
    const empty = start === null || end === null || end <= start;
    return empty ? [{ code: 'section-empty', severity: 'error', deliverable: name }] : [];
  });

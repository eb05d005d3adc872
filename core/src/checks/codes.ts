import { parseEan } from '../disc/ean.js';
import { parseIsrc } from '../disc/isrc.js';
import type { Finding, Rule } from './finding.js';

/** Codes that are given are well-formed, and no two tracks share an ISRC [ISO 3901]. */
export const codes: Rule = ({ album }) => {
  const found: Finding[] = [];
  if (album.upc.trim() !== '' && !parseEan(album.upc))
    found.push({ code: 'upc-malformed', severity: 'error', text: album.upc });
  const first = new Map<string, number>();
  album.tracks.forEach(({ isrc: text }, track) => {
    if (text.trim() === '') return;
    const isrc = parseIsrc(text);
    if (!isrc) {
      found.push({ code: 'isrc-malformed', severity: 'error', track, text });
      return;
    }
    const earlier = first.get(isrc);
    if (earlier === undefined) first.set(isrc, track);
    else found.push({ code: 'isrc-double', severity: 'warning', track, first: earlier, isrc });
  });
  return found;
};

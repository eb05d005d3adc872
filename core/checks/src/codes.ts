import { positionOf } from '@oiseau/album/model';
import { parseEan, parseIsrc } from '@oiseau/formats/disc';
import type { Finding, Rule } from './finding.js';

/** Codes that are given are well-formed, and no two tracks share an ISRC [ISO 3901]. */
export const codes: Rule = ({ album, parts }) => {
  const found: Finding[] = [];
  for (const text of new Set([album.upc, ...parts.map(({ upc }) => upc)]))
    if (text.trim() !== '' && !parseEan(text)) found.push({ code: 'upc-malformed', severity: 'error', text });
  const first = new Map<string, string>();
  for (const part of parts)
    part.tracks.forEach(({ id: song, isrc: text }, i) => {
      if (text.trim() === '') return;
      const isrc = parseIsrc(text);
      if (!isrc) {
        found.push({ code: 'isrc-malformed', severity: 'error', song, text });
        return;
      }
      const earlier = first.get(isrc);
      if (earlier === undefined) first.set(isrc, part.of === 1 ? String(i + 1) : positionOf(part, i + 1));
      else found.push({ code: 'isrc-double', severity: 'warning', song, first: earlier, isrc });
    });
  return found;
};

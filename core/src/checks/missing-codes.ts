import type { Finding, Rule } from './finding.js';

/** Every recording has an ISRC and the album a UPC/EAN: shops and plants ask for them. */
export const missingCodes: Rule = ({ album }) => {
  if (album.tracks.length === 0) return [];
  const found: Finding[] = [];
  if (album.upc.trim() === '') found.push({ code: 'upc-missing', severity: 'hint' });
  const without = album.tracks.flatMap(({ isrc }, track) => (isrc.trim() === '' ? [track] : []));
  if (without.length === album.tracks.length) found.push({ code: 'isrc-all-missing', severity: 'hint' });
  else for (const track of without) found.push({ code: 'isrc-missing', severity: 'warning', track });
  return found;
};

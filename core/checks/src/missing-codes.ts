import { tracksOf } from '@oiseau/album/model';
import type { Finding, Rule } from './finding.js';

/** Every recording has an ISRC and the album a UPC/EAN: shops and plants ask for them. */
export const missingCodes: Rule = ({ album }) => {
  const tracks = tracksOf(album);
  if (tracks.length === 0) return [];
  const found: Finding[] = [];
  if (album.upc.trim() === '') found.push({ code: 'upc-missing', severity: 'hint' });
  const without = tracks.filter(({ isrc }) => isrc.trim() === '');
  if (without.length === tracks.length) found.push({ code: 'isrc-all-missing', severity: 'hint' });
  else for (const { id: song } of without) found.push({ code: 'isrc-missing', severity: 'warning', song });
  return found;
};

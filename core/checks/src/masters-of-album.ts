import { mastersPlayed } from '@oiseau/album/model';
import type { Finding, Rule } from './finding.js';

/** The masters of an album come at one rate, and none of them is left over. */
export const mastersOfAlbum: Rule = ({ album, masters, details }) => {
  const found: Finding[] = [];
  const used = new Set(mastersPlayed(album));
  const rates = new Set(
    album.songs.map(({ region }) => region.master).flatMap((id) => masters.get(id)?.rate ?? []),
  );
  if (rates.size > 1)
    found.push({ code: 'rates-differ', severity: 'hint', rates: [...rates].sort((a, b) => a - b) });
  // The older version of a master is kept on purpose.
  const replaced = new Set([...(details?.values() ?? [])].map(({ replaces }) => replaces));
  const count = [...(details?.keys() ?? [])].filter((id) => !used.has(id) && !replaced.has(id)).length;
  if (count > 0 && album.songs.length > 0) found.push({ code: 'masters-unused', severity: 'hint', count });
  return found;
};

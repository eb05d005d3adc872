import type { Finding, Rule } from './finding.js';

/** A player shows exactly what was typed; nothing typed shows nothing. */
export const titles: Rule = ({ album }) => {
  const found: Finding[] = [];
  if (album.title.trim() === '') found.push({ code: 'album-title-empty', severity: 'warning' });
  for (const { id: song, title } of album.songs)
    if (title.trim() === '') found.push({ code: 'title-empty', severity: 'warning', song });
  return found;
};

import { t } from '../ui/messages.js';
/** Track numbers as people write them: `1–3, 5`; null (all) is empty. */
export function tracksText(select: readonly number[] | null): string {
  if (!select) return '';
  const runs: [first: number, last: number][] = [];
  for (const track of [...select].sort((a, b) => a - b)) {
    const run = runs.at(-1);
    if (run && track === run[1] + 1) run[1] = track;
    else runs.push([track, track]);
  }
  return runs.map(([first, last]) => (first === last ? `${first}` : `${first}–${last}`)).join(', ');
}

/** Reads a list of track numbers and ranges; a sentence when it is none. Nothing means all. */
export function readTracks(text: string, last: number): number[] | null | string {
  const parts = text
    .replace(/\s*[–-]\s*/g, '–')
    .split(/[,\s]+/)
    .filter((part) => part !== '' && part !== 'all');
  if (parts.length === 0) return null;
  const tracks = new Set<number>();
  for (const part of parts) {
    const found = /^(\d{1,2})(?:–(\d{1,2}))?$/.exec(part);
    if (!found) return t('“{part}” isn’t a track. Enter tracks such as 1–3, 5.', { part });
    const from = Number(found[1]);
    const to = Number(found[2] ?? found[1]);
    if (from < 1 || to > last || to < from)
      return t('“{part}”: the album has tracks 1 to {last}.', { part, last });
    for (let track = from; track <= to; track++) tracks.add(track);
  }
  return [...tracks].sort((a, b) => a - b);
}

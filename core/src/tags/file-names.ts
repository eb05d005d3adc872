import type { Album } from '../album/album.js';
import { fillPattern } from '../album/name-pattern.js';
import { parseEan } from '../disc/ean.js';
import { parseIsrc } from '../disc/isrc.js';

/** What a pattern makes of every track's file, without its extension; two of them may be alike. */
export function patternNames(album: Album, pattern: string, revision: number): string[] {
  const upc = parseEan(album.upc) ?? '';
  return album.tracks.map((track, i) =>
    fillPattern(pattern, {
      number: String(i + 1).padStart(2, '0'),
      title: track.title,
      performer: track.performer || album.performer,
      album: album.title,
      albumPerformer: album.performer,
      isrc: parseIsrc(track.isrc) ?? '',
      upc,
      catalogNumber: album.catalogNumber,
      date: album.releaseDate,
      disc: String(album.discNumber),
      revision: String(revision),
    }),
  );
}

import { type Album, MAIN, fillPattern, positionOf, type PartSongs } from '@oiseau/album/model';
import { parseEan } from '../disc/ean.js';
import { parseIsrc } from '../disc/isrc.js';

/**
 * What a pattern makes of every track's file in a part, without its extension; two of them may be alike.
 * @param alternate the name of the recording, or `MAIN`
 */
export function patternNames(
  album: Album,
  part: PartSongs,
  pattern: string,
  {
    revision,
    revisionDate,
    edition = '',
  }: { readonly revision: number; readonly revisionDate: string; readonly edition?: string },
  alternate: string = MAIN,
): string[] {
  const upc = parseEan(part.upc) ?? '';
  return part.tracks.map((track, i) =>
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
      disc: String(part.discNumber),
      part: part.label,
      position: positionOf(part, i + 1),
      alternate: alternate === MAIN ? '' : alternate,
      ...{ edition, revision: String(revision), revisionDate },
    }),
  );
}

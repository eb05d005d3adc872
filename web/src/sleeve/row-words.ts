import { ALBUM_ROW, type TableRow } from '@oiseau/formats/tags';
import { partsOf, positionOf, type Album } from '@oiseau/album/model';
import { numberedName } from '../album/song-name.js';
import { t } from '../ui/messages.js';

/** What stands at the head of the hidden song's row. */
export const HIDDEN = t('Hidden');

/** Places of the tracks of an album, worked out once for all its rows. */
const known = new WeakMap<Album, ReadonlyMap<string, string>>();

function placesOf(album: Album): ReadonlyMap<string, string> {
  const places =
    known.get(album) ??
    new Map(
      partsOf(album).flatMap((part) =>
        part.tracks.map(({ id }, i) => [id, part.of > 1 ? positionOf(part, i + 1) : String(i + 1)] as const),
      ),
    );
  known.set(album, places);
  return places;
}

/** The head of a row: “Album”, “3”, of several parts “2-03”, “Hidden”. */
export const rowLabel = (album: Album, row: TableRow): string =>
  row === ALBUM_ROW ? t('Album') : (placesOf(album).get(row) ?? HIDDEN);

/** A row in words: “the album”, “track 3”, “the hidden song”. */
export const rowName = (album: Album, row: TableRow): string =>
  row === ALBUM_ROW ? t('the album') : numberedName(placesOf(album).get(row) ?? null);

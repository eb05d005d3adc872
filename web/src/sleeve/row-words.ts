import { ALBUM_ROW, tracksOf, type Album, type TableRow } from '@oiseau/core';
import { numberedName } from '../album/song-name.js';

/** What stands at the head of the hidden song's row. */
export const HIDDEN = 'Hidden';

const numberOf = (album: Album, row: TableRow): number | null => {
  const place = tracksOf(album).findIndex(({ id }) => id === row);
  return place < 0 ? null : place + 1;
};

/** The head of a row: “Album”, “3”, “Hidden”. */
export const rowLabel = (album: Album, row: TableRow): string =>
  row === ALBUM_ROW ? 'Album' : String(numberOf(album, row) ?? HIDDEN);

/** A row in words: “the album”, “track 3”, “the hidden song”. */
export const rowName = (album: Album, row: TableRow): string =>
  row === ALBUM_ROW ? 'the album' : numberedName(numberOf(album, row));

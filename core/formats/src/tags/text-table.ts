import { msg, type Message } from '@oiseau/messages';
import { songOf, type Album, type Song, CD_TEXT_FIELDS, type CdTextField } from '@oiseau/album/model';
import { changeSong } from '@oiseau/album/edits';
import { formatIsrc, isrcFault, parseIsrc } from '../disc/isrc.js';

/** What a table of an album's words has columns for. */
export const TABLE_FIELDS = [
  'title',
  'performer',
  'songwriter',
  'composer',
  'arranger',
  'lyricist',
  'publisher',
  'message',
  'comment',
  'isrc',
  'language',
  'advisory',
  'copyPermitted',
  'preEmphasis',
] as const;
export type TableField = (typeof TABLE_FIELDS)[number];

/** A column: a field, or one of the words of the second language. */
export interface TableColumn {
  readonly field: TableField;
  readonly second: boolean;
}

/** A row of the table: a song by its id, or the album itself, which stands above all of them. */
export type TableRow = string | null;
export const ALBUM_ROW = null;

/** All rows in their order. */
export const tableRows = ({ songs }: Album): TableRow[] => [ALBUM_ROW, ...songs.map(({ id }) => id)];

export interface CellEdit {
  readonly row: TableRow;
  readonly column: TableColumn;
  readonly text: string;
}

/** Fields that the album has as well. */
const OF_ALBUM: ReadonlySet<TableField> = new Set([...CD_TEXT_FIELDS, 'comment', 'language'] as const);
/** Fields that a track leaves to the album when it has no text of its own. */
const INHERITED: ReadonlySet<TableField> = new Set([
  'performer',
  'songwriter',
  'composer',
  'arranger',
  'language',
] as const);

/** Whether a row has such a cell at all: the album has no ISRC. */
export const hasCell = (row: TableRow, { field }: TableColumn): boolean =>
  row !== ALBUM_ROW || OF_ALBUM.has(field);

/** The text of a cell as people read it: ISRCs with hyphens, flags as “yes” or nothing. */
export function cellText(album: Album, row: TableRow, { field, second }: TableColumn): string {
  if (row === ALBUM_ROW) {
    if (second) return album.secondLanguage?.words[field as CdTextField] ?? '';
    return OF_ALBUM.has(field) ? album[field as CdTextField | 'comment' | 'language'] : '';
  }
  const song = songOf(album, row);
  if (!song) return '';
  if (second) return song.secondWords[field as CdTextField] ?? '';
  const value = song[field];
  if (typeof value === 'boolean') return value ? 'yes' : '';
  const isrc = field === 'isrc' ? parseIsrc(value) : undefined;
  return isrc ? formatIsrc(isrc) : value;
}

/** What an empty cell of a track says all the same, by the album; empty where nothing is inherited. */
export function inheritedText(album: Album, row: TableRow, column: TableColumn): string {
  return row !== ALBUM_ROW && INHERITED.has(column.field) ? cellText(album, ALBUM_ROW, column) : '';
}

/** What is wrong with a text for a field; undefined when nothing is. */
export function cellFault({ field }: TableColumn, text: string): Message | undefined {
  switch (field) {
    case 'isrc':
      return isrcFault(text);
    case 'advisory':
      return advisoryOf(text) === undefined ? msg('“explicit”, “clean” or nothing.') : undefined;
    case 'copyPermitted':
    case 'preEmphasis':
      return flagOf(text) === undefined ? msg('“yes” or nothing.') : undefined;
    default:
      return undefined;
  }
}

function flagOf(text: string): boolean | undefined {
  if (/^(yes|y|true|1|x|on)$/i.test(text.trim())) return true;
  return /^(no|n|false|0|-|off|)$/i.test(text.trim()) ? false : undefined;
}

function advisoryOf(text: string): Song['advisory'] | undefined {
  const clean = text.trim().toLowerCase();
  return (['', 'explicit', 'clean'] as const).find((each) => each === clean);
}

/**
 * The album after some cells were written. A valid ISRC is kept in its one form, a faulty one as typed; a text that is no
 * flag and no advisory leaves its cell as it was, and so does a cell that does not exist.
 */
export function writeCells(album: Album, edits: readonly CellEdit[]): Album {
  return edits.reduce((written, { row, column, text }) => {
    if (!hasCell(row, column)) return written;
    if (row === ALBUM_ROW) return writeAlbum(written, column, text);
    return changeSong(written, row, (song) => writeSong(song, column, text));
  }, album);
}

function writeAlbum(album: Album, { field, second }: TableColumn, text: string): Album {
  if (!second) return album[field as CdTextField] === text ? album : { ...album, [field]: text };
  const { secondLanguage } = album;
  if (!secondLanguage) return album;
  return {
    ...album,
    secondLanguage: { ...secondLanguage, words: withWord(secondLanguage.words, field, text) },
  };
}

function writeSong(song: Song, { field, second }: TableColumn, text: string): Song {
  if (second) return { ...song, secondWords: withWord(song.secondWords, field, text) };
  const value = valueOf(field, text);
  return value === undefined || song[field] === value ? song : { ...song, [field]: value };
}

function valueOf(field: TableField, text: string): string | boolean | undefined {
  switch (field) {
    case 'copyPermitted':
    case 'preEmphasis':
      return flagOf(text);
    case 'advisory':
      return advisoryOf(text);
    case 'isrc':
      return parseIsrc(text) ?? text;
    default:
      return text;
  }
}

/** Words of a second language with one of them changed; an empty one is left out. */
function withWord(
  words: Song['secondWords'],
  field: TableField,
  text: string,
): Partial<Record<CdTextField, string>> {
  const others = Object.entries(words).filter(([key]) => key !== field);
  return Object.fromEntries(text === '' ? others : [...others, [field, text]]);
}

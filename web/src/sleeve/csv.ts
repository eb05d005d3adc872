import {
  ALBUM_ROW,
  cellFault,
  cellText,
  hasCell,
  TABLE_FIELDS,
  tableRows,
  type CellEdit,
  type TableField,
  type TableRow,
} from '@oiseau/formats/tags';
import { asTyped, withoutFormula } from '@oiseau/formats/disc';
import { hiddenSong, tracksOf, type Album } from '@oiseau/album/model';
import Papa from 'papaparse';
import { HIDDEN, rowLabel, rowName } from './row-words.js';
import { FIELD_NAMES } from './sets.js';
import { sayFault, t } from '../ui/messages.js';

const NUMBER = 'No.';

/** All words and codes as CSV: a head, the album, then a row for each song; UTF-8 with a mark, as spreadsheets like it. */
export function albumToCsv(album: Album): string {
  const rows = tableRows(album).map((row) => [
    rowLabel(album, row),
    ...TABLE_FIELDS.map((field) => withoutFormula(cellText(album, row, { field, second: false }))),
  ]);
  const text = Papa.unparse([[NUMBER, ...TABLE_FIELDS.map((field) => FIELD_NAMES[field])], ...rows], {
    newline: '\r\n',
  });
  return `\uFEFF${text}\r\n`;
}

/** A change that a CSV would make, for people to look at. */
export interface CsvChange {
  readonly edit: CellEdit;
  /** `track 3`, `the hidden song`, `the album` */
  readonly place: string;
  readonly name: string;
  readonly from: string;
  readonly to: string;
}

export interface CsvReading {
  readonly changes: readonly CsvChange[];
  /** What can't be taken over, a sentence each. */
  readonly problems: readonly string[];
}

/**
 * What a CSV would change: its columns are known by their names, its rows by their numbers, in whatever order; columns
 * that it does not have stay as they are.
 */
export function readCsv(album: Album, text: string): CsvReading {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trimEnd());
  const [head = [], ...rows] = data;
  const problems: string[] = [];
  const same = (a: string, b: string): boolean => a.trim().toLowerCase() === b.toLowerCase();
  const numberAt = head.findIndex((name) => same(name, NUMBER) || same(name, 'No'));
  const fields = head.map((name): TableField | null => {
    const found = TABLE_FIELDS.find((field) => same(name, FIELD_NAMES[field]) || same(name, field));
    return found ?? null;
  });
  if (!fields.some((field) => field !== null))
    return { changes: [], problems: [t('No column is named after a field such as “Title” or “ISRC”.')] };
  head.forEach((name, i) => {
    if (fields[i] === null && i !== numberAt && name.trim() !== '')
      problems.push(t('Column “{trim}” isn’t a field and is skipped.', { trim: name.trim() }));
  });
  const changes = rows.flatMap((cells, line): CsvChange[] => {
    const row = rowOf(album, numberAt < 0 ? String(line + 1) : (cells[numberAt] ?? ''));
    if (row === undefined) {
      problems.push(t('Line {line} matches no track of this album and is skipped.', { line: line + 2 }));
      return [];
    }
    const place = rowName(album, row);
    return fields.flatMap((field, i): CsvChange[] => {
      if (field === null) return [];
      const column = { field, second: false };
      const to = asTyped(cells[i] ?? '');
      const from = cellText(album, row, column);
      if (!hasCell(row, column) || to === from) return [];
      const fault = sayFault(cellFault(column, to));
      if (fault)
        problems.push(
          t('{field} of {place}, “{to}”: {fault}', { field: FIELD_NAMES[field], place, to, fault }),
        );
      return [{ edit: { row, column, text: to }, place, name: FIELD_NAMES[field], from, to }];
    });
  });
  return { changes, problems };
}

/** The row that a CSV names in its first column; undefined when the album has none such. */
function rowOf(album: Album, label: string): TableRow | undefined {
  const text = label.trim().toLowerCase();
  if (text === 'album') return ALBUM_ROW;
  if (text === HIDDEN.toLowerCase()) return hiddenSong(album)?.id;
  return /^\d+$/.test(text) ? tracksOf(album)[Number(text) - 1]?.id : undefined;
}

import { asTyped, withoutFormula } from './formulas.js';

const quoted = (text: string): string => {
  const cell = withoutFormula(text);
  return /[",\r\n]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell;
};

/** Rows as comma-separated values [RFC 4180], in UTF-8; no cell is taken for a formula. */
export const encodeCsv = (rows: readonly (readonly string[])[]): Uint8Array =>
  new TextEncoder().encode(rows.map((cells) => `${cells.map(quoted).join(',')}\r\n`).join(''));

/** Reads comma-separated values [RFC 4180] as a stranger would. */
export function readCsv(text: string): string[][] {
  const rows: string[][] = [];
  let cells: string[] = [];
  // A cell is quoted, with doubled quotes inside, or has no quote, comma or break in it.
  for (const [, inQuotes, plain = '', end] of text.matchAll(
    /(?:"((?:[^"]|"")*)"|([^",\r\n]*))(,|\r\n|\n|$)/g,
  )) {
    cells.push(asTyped(inQuotes?.replaceAll('""', '"') ?? plain));
    if (end === ',') continue;
    if (cells.join('') !== '') rows.push(cells);
    cells = [];
  }
  return rows;
}

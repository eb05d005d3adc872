import Papa from 'papaparse';
import { asTyped, withoutFormula } from './formulas.js';

/** Rows as comma-separated values [RFC 4180], in UTF-8; no cell is taken for a formula. */
export const encodeCsv = (rows: readonly (readonly string[])[]): Uint8Array =>
  new TextEncoder().encode(
    rows.length === 0 ? '' : `${Papa.unparse(rows.map((cells) => cells.map(withoutFormula)))}\r\n`,
  );

/** Reads comma-separated values [RFC 4180]: a reader of its own, to verify what was written. */
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

import Papa from 'papaparse';
import { cellsIn, type Block, type Place } from './grid-state.js';

/** A block as spreadsheets put it on the clipboard: cells apart by tabs, quoted where they must be, each row ended by a line break. */
export function blockToText(rows: readonly (readonly string[])[]): string {
  const text = Papa.unparse(
    rows.map((row) => [...row]),
    { delimiter: '\t', newline: '\r\n' },
  );
  return `${text}\r\n`;
}

/** What a spreadsheet has put on the clipboard: rows of cells. */
export function textToBlock(text: string): string[][] {
  // One line break at the end is that of the last row, not a row more.
  const { data } = Papa.parse<string[]>(text.replace(/\r?\n$/, ''), { delimiter: '\t' });
  return data.length === 0 ? [['']] : data;
}

/**
 * Where pasted cells go: from the block's corner on; a single cell, or a pattern that fits a whole number of times, fills
 * the chosen block. What would lie outside of the table is left out.
 */
export function pasted(
  data: readonly (readonly string[])[],
  block: Block,
  rows: number,
  columns: number,
): { readonly place: Place; readonly text: string }[] {
  const height = data.length;
  const width = Math.max(1, ...data.map((row) => row.length));
  const chosen = { height: block.bottom - block.top + 1, width: block.right - block.left + 1 };
  const repeats = chosen.height % height === 0 && chosen.width % width === 0;
  const target: Block = {
    top: block.top,
    left: block.left,
    bottom: Math.min(rows, block.top + (repeats ? chosen.height : height)) - 1,
    right: Math.min(columns, block.left + (repeats ? chosen.width : width)) - 1,
  };
  return cellsIn(target).map((place) => ({
    place,
    text: data[(place.row - block.top) % height]?.[(place.column - block.left) % width] ?? '',
  }));
}

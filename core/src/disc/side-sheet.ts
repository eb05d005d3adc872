import { asTyped, withoutFormula } from './formulas.js';
import type { Ticks } from '../time/ticks.js';
import { ticksToSeconds } from '../time/ticks.js';

/** A track of a side as a cutting room reads it; times from the start of the side's file. */
export interface SideSheetRow {
  /** “A”. */
  readonly part: string;
  /** “A1”. */
  readonly position: string;
  readonly title: string;
  readonly start: Ticks;
  readonly length: Ticks;
  /** 12 characters; empty when there is none. */
  readonly isrc: string;
}

const COLUMNS = ['part', 'position', 'title', 'start', 'length', 'isrc'] as const;

const quoted = (text: string): string => {
  const cell = withoutFormula(text);
  return /[",\r\n]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell;
};

/** A row in words: times in seconds with three decimals. */
export const sideSheetCells = ({ part, position, title, start, length, isrc }: SideSheetRow): string[] => [
  part,
  position,
  title,
  ticksToSeconds(start).toFixed(3),
  ticksToSeconds(length).toFixed(3),
  isrc,
];

/** The sheet as comma-separated values [RFC 4180], in UTF-8 with a line of names. */
export const encodeSideSheet = (rows: readonly SideSheetRow[]): Uint8Array =>
  new TextEncoder().encode(
    [COLUMNS, ...rows.map(sideSheetCells)].map((cells) => `${cells.map(quoted).join(',')}\r\n`).join(''),
  );

/** Reads comma-separated values [RFC 4180] as a stranger would, the line of names left out. */
export function readSideSheet(text: string): string[][] {
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
  return rows.slice(1);
}

import { type Ticks, ticksToSeconds } from '@oiseau/audio/time';
import { encodeCsv, readCsv } from './csv.js';

/** A track of a side as a cutting room reads it; times from the start of the side's file. */
export interface SideSheetRow {
  /** “A”. */
  readonly part: string;
  /** “A1”. */
  readonly position: string;
  readonly title: string;
  readonly start: Ticks;
  /** Of its audio alone, from its in point to its out point. */
  readonly length: Ticks;
  /** Silence before the next track of the side, negative for an overlap; null: it is the last. */
  readonly gap: Ticks | null;
  /** 12 characters; empty when there is none. */
  readonly isrc: string;
}

const COLUMNS = ['part', 'position', 'title', 'start', 'length', 'gap', 'isrc'] as const;

/** A row in words: times in seconds with three decimals. */
export const sideSheetCells = ({
  part,
  position,
  title,
  start,
  length,
  gap,
  isrc,
}: SideSheetRow): string[] => [
  part,
  position,
  title,
  ticksToSeconds(start).toFixed(3),
  ticksToSeconds(length).toFixed(3),
  gap === null ? '' : ticksToSeconds(gap).toFixed(3),
  isrc,
];

/** The sheet as comma-separated values, with a line of names. */
export const encodeSideSheet = (rows: readonly SideSheetRow[]): Uint8Array =>
  encodeCsv([COLUMNS, ...rows.map(sideSheetCells)]);

/** Reads it as a stranger would, the line of names left out. */
export const readSideSheet = (text: string): string[][] => readCsv(text).slice(1);

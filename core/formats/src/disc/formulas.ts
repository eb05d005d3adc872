/**
 * Spreadsheets take a cell of comma-separated values that begins like this for a formula and run it; an apostrophe
 * before it says that it is text.
 */
const FORMULA = /^'*[=+\-@\t\r]/;
/** A figure below zero, which is no formula and must stay a figure. */
const FIGURE = /^-(?:0|[1-9]\d*)(?:\.\d+)?$/;
const ESCAPED = /^'+[=+\-@\t\r]/;

/** A cell as every spreadsheet shows it: as text. */
export const withoutFormula = (text: string): string =>
  FORMULA.test(text) && !FIGURE.test(text) ? `'${text}` : text;

/** What stood in a cell before `withoutFormula`. */
export const asTyped = (cell: string): string => (ESCAPED.test(cell) ? cell.slice(1) : cell);

import { msg, type Translator } from '@oiseau/messages';
import type { PaperOf } from '@oiseau/formats/disc';

/**
 * Longest text that is left to the PDF library's own line breaking. Its time grows with the square of an unbroken run of signs (a title of
 * 4,000 hyphens took a second), so longer texts are broken here, in one pass.
 */
const MOST_CHARACTERS = 200;

/** Whether a text is broken into lines by `breakLines`, not by the PDF library. */
export const isLong = (text: string): boolean => text.length > MOST_CHARACTERS;

/** Characters of a sheet, and of one cell where a sheet has more than that: it is made in a second or two, whatever was typed. */
const MOST_IN_ALL = 300_000;
const LEAST_PER_CELL = 60;

/** A sheet with so much text that cells had to be shortened, and a note that says so; any other as it is. */
export function boundedPaper(paper: PaperOf<string>, { say }: Translator): PaperOf<string> {
  const texts = [
    ...[paper.title, paper.author, ...paper.facts.map(([, value]) => value), ...paper.notes],
    ...paper.rows.flatMap(({ cells }) => cells),
  ];
  if (texts.reduce((sum, text) => sum + text.length, 0) <= MOST_IN_ALL) return paper;
  const most = Math.max(LEAST_PER_CELL, Math.floor(MOST_IN_ALL / texts.length));
  const cut = (text: string): string => (text.length > most ? `${text.slice(0, most - 1)}…` : text);
  return {
    ...paper,
    ...{ title: cut(paper.title), author: cut(paper.author) },
    facts: paper.facts.map(([name, value]) => [name, cut(value)]),
    rows: paper.rows.map((row) => ({ ...row, cells: row.cells.map(cut) })),
    notes: [
      ...paper.notes.map(cut),
      say(msg('Texts of more than {count} characters are shortened on this sheet.', { count: String(most) })),
    ],
  };
}

/**
 * Breaks a text into lines at blanks, and inside words that are wider than a line; no character is lost but the blanks at which it is broken.
 * @param widthOf advance of one character
 * @param width of a line, in the same unit; a line holds at least one character
 */
export function breakLines(text: string, width: number, widthOf: (character: string) => number): string[] {
  const lines: string[] = [];
  for (const paragraph of text.split(/\r\n|[\r\n]/)) breakParagraph(paragraph, width, widthOf, lines);
  return lines;
}

function breakParagraph(
  text: string,
  width: number,
  widthOf: (character: string) => number,
  lines: string[],
): void {
  let start = 0;
  /** After the last blank of the line, and the line's width up to there; 0: it has none yet. */
  let blank = 0;
  let toBlank = 0;
  let used = 0;
  let at = 0;
  for (const character of text) {
    const isMark = /\p{M}/u.test(character);
    const advance = widthOf(character);
    if (used + advance > width && at > start && !isMark && character !== ' ') {
      const end = blank > start ? blank : at;
      lines.push(text.slice(start, end).trimEnd());
      used = blank > start ? used - toBlank : 0;
      start = end;
    }
    used += advance;
    at += character.length;
    if (character === ' ') {
      blank = at;
      toBlank = used;
    }
  }
  lines.push(text.slice(start).trimEnd());
}

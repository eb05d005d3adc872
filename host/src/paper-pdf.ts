import { buffer } from 'node:stream/consumers';
import { msg, type Translator } from '@oiseau/messages';
import { wordPaper, type Paper, type PaperOf, type PaperRow } from '@oiseau/formats/disc';
import { fontFor } from './paper-fonts.js';
import { boundedPaper, breakLines, isLong } from './paper-lines.js';
import { translatorFor } from './translator.js';

const MARGIN = 42;
/** Between columns, and between rows. */
const GUTTER = 6;
const LEADING = 4;
/** One for all, so that the same sheet is the same bytes on any day; the day that counts stands among its facts. */
const NO_DAY = new Date(0);

/**
 * A sheet as a PDF on A4, its fonts embedded. The same sheet gives the same bytes. No text is cut off, but on sheets of more than 300,000
 * characters, which say so.
 */
export async function paperPdf(given: Paper): Promise<Buffer> {
  const translator = await translatorFor(given.language);
  const paper = boundedPaper(wordPaper(given, translator), translator);
  // Loaded by the first sheet: few renders have one.
  const { default: PDFDocument } = await import('pdfkit');
  const pdf = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    bufferPages: true,
    info: { Title: `${paper.title} – ${paper.kind}`, Author: paper.author, CreationDate: NO_DAY },
  });
  const whole = buffer(pdf);
  const measure = characterWidths(pdf);
  const line = (size: number, text: string, weight: 'regular' | 'strong' = 'regular'): void => {
    pdf.font(fontFor(text, weight)).fontSize(size);
    if (!isLong(text)) return void pdf.text(text);
    for (const each of breakLines(text, innerWidth(pdf), measure(fontFor(text, weight), size)))
      pdf.text(each, { lineBreak: false });
  };
  line(16, paper.title || translator.say(msg('Untitled')), 'strong');
  line(10, [paper.author, paper.kind].filter(Boolean).join(' · '));
  pdf.moveDown(0.5);
  const facts = paper.facts.filter(([, value]) => value !== '');
  // A fact stays together where it is short enough for that.
  const together = (text: string): string => (text.length < 60 ? text.replaceAll(' ', '\u00a0') : text);
  line(9, facts.map(([name, value]) => together(`${name}: ${value}`)).join('   '));
  pdf.moveDown(0.8);
  writeTable(pdf, paper, measure);
  if (paper.notes.length > 0) {
    pdf.x = MARGIN;
    pdf.moveDown(1);
    line(8.5, paper.notes.join('\n'));
  }
  numberPages(pdf, translator);
  pdf.end();
  return whole;
}

const innerWidth = (pdf: PDFKit.PDFDocument): number => pdf.page.width - 2 * MARGIN;

/** Widths of characters in a font and size, each measured once. */
type Measure = (font: string, size: number) => (character: string) => number;

function characterWidths(pdf: PDFKit.PDFDocument): Measure {
  const known = new Map<string, Map<string, number>>();
  return (font, size) => {
    const key = `${size} ${font}`;
    const widths = known.get(key) ?? new Map<string, number>();
    known.set(key, widths);
    return (character) => {
      let width = widths.get(character);
      if (width === undefined) {
        width = pdf.font(font).fontSize(size).widthOfString(character);
        widths.set(character, width);
      }
      return width;
    };
  };
}

function writeTable(pdf: PDFKit.PDFDocument, { columns, rows }: PaperOf<string>, measure: Measure): void {
  const unit = innerWidth(pdf) / columns.reduce((sum, { share }) => sum + share, 0);
  let left = MARGIN;
  const placed = columns.map(({ name, share, isNumber }) => {
    const at = left;
    left += share * unit;
    return { name, at, width: share * unit - GUTTER, align: isNumber ? 'right' : 'left' } as const;
  });
  const head = (top: number): number => {
    pdf.font(fontFor(placed.map(({ name }) => name).join(''))).fontSize(8);
    const height = Math.max(...placed.map(({ name, width }) => pdf.heightOfString(name, { width })));
    for (const { name, at, width, align } of placed)
      pdf.text(name, at, top + height - pdf.heightOfString(name, { width }), { width, align });
    pdf
      .moveTo(MARGIN, top + height + 2)
      .lineTo(pdf.page.width - MARGIN, top + height + 2)
      .lineWidth(0.5)
      .stroke();
    return top + height + 6;
  };
  let y = head(pdf.y);
  const line = ({ cells, isStrong = false }: PaperRow<string>): void => {
    const styled = (cell: string) => pdf.font(fontFor(cell, isStrong ? 'strong' : 'regular')).fontSize(8.5);
    const heightOf = (cell: string, width: number): number =>
      cell === '' ? 0 : styled(cell).heightOfString(cell, { width });
    const height = Math.max(9, ...placed.map(({ width }, i) => heightOf(cells[i] ?? '', width)));
    if (y + height > pdf.page.height - MARGIN && y > MARGIN + 40) {
      pdf.addPage();
      y = head(MARGIN);
    }
    placed.forEach(({ at, width, align }, i) => {
      const cell = cells[i] ?? '';
      if (cell !== '') styled(cell).text(cell, at, y, { width, align });
    });
    y += height + LEADING;
  };
  /** A row with a long text: line by line, over as many pages as it needs. */
  const longLine = ({ cells, isStrong = false }: PaperRow<string>): void => {
    const size = 8.5;
    const columnsOfRow = placed.map(({ at, width, align }, i) => {
      const cell = cells[i] ?? '';
      const font = fontFor(cell, isStrong ? 'strong' : 'regular');
      const lines = cell === '' ? [] : breakLines(cell, width, measure(font, size));
      const height = pdf.font(font).fontSize(size).currentLineHeight(true);
      return { at, font, lines, height, options: { width, align, lineBreak: false } };
    });
    const height = Math.max(...columnsOfRow.map((column) => column.height));
    for (let n = 0; columnsOfRow.some(({ lines }) => n < lines.length); n++) {
      if (y + height > pdf.page.height - MARGIN) {
        pdf.addPage();
        y = head(MARGIN);
      }
      for (const { at, font, lines, options } of columnsOfRow)
        pdf
          .font(font)
          .fontSize(size)
          .text(lines[n] ?? '', at, y, options);
      y += height;
    }
    y += LEADING;
  };
  for (const row of rows) (row.cells.some(isLong) ? longLine : line)(row);
  pdf.y = y;
}

function numberPages(pdf: PDFKit.PDFDocument, { say }: Translator): void {
  const { start, count } = pdf.bufferedPageRange();
  for (let page = start; page < start + count; page++) {
    pdf.switchToPage(page);
    pdf.page.margins.bottom = 0;
    const words = say(msg('{number} of {total}', { number: page + 1, total: count }));
    pdf
      .font(fontFor(words))
      .fontSize(8)
      .text(words, MARGIN, pdf.page.height - MARGIN + 12, {
        align: 'right',
        width: innerWidth(pdf),
        lineBreak: false,
      });
  }
}

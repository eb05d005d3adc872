import { buffer } from 'node:stream/consumers';
import type { Paper, PaperRow } from '@oiseau/core';
import { fontFor } from './paper-fonts.js';

const MARGIN = 42;
/** Between columns, and between rows. */
const GUTTER = 6;
const LEADING = 4;
/** One for all, so that the same sheet is the same bytes on any day; the day that counts stands among its facts. */
const NO_DAY = new Date(0);

/** A sheet as a PDF on A4, its fonts embedded; no text in it is cut off. The same sheet gives the same bytes. */
export async function paperPdf(paper: Paper): Promise<Buffer> {
  // Loaded by the first sheet: few renders have one.
  const { default: PDFDocument } = await import('pdfkit');
  const pdf = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    bufferPages: true,
    info: { Title: `${paper.title} – ${paper.what}`, Author: paper.author, CreationDate: NO_DAY },
  });
  const whole = buffer(pdf);
  const line = (size: number, text: string, weight?: 'strong'): void =>
    void pdf.font(fontFor(text, weight)).fontSize(size).text(text);
  line(16, paper.title || 'Untitled', 'strong');
  line(10, [paper.author, paper.what].filter(Boolean).join(' · '));
  pdf.moveDown(0.5);
  const facts = paper.facts.filter(([, value]) => value !== '');
  // A fact stays together where it is short enough for that.
  const together = (text: string): string => (text.length < 60 ? text.replaceAll(' ', '\u00a0') : text);
  line(9, facts.map(([name, value]) => together(`${name}: ${value}`)).join('   '));
  pdf.moveDown(0.8);
  writeTable(pdf, paper);
  if (paper.notes.length > 0) {
    pdf.x = MARGIN;
    pdf.moveDown(1);
    line(8.5, paper.notes.join('\n'));
  }
  numberPages(pdf);
  pdf.end();
  return whole;
}

const innerWidth = (pdf: PDFKit.PDFDocument): number => pdf.page.width - 2 * MARGIN;

function writeTable(pdf: PDFKit.PDFDocument, { columns, rows }: Paper): void {
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
  const line = ({ cells, isStrong = false }: PaperRow): void => {
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
  rows.forEach(line);
  pdf.y = y;
}

function numberPages(pdf: PDFKit.PDFDocument): void {
  const { start, count } = pdf.bufferedPageRange();
  for (let page = start; page < start + count; page++) {
    pdf.switchToPage(page);
    pdf.page.margins.bottom = 0;
    const words = `${page + 1} of ${count}`;
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

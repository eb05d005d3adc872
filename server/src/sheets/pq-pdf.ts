import { createRequire } from 'node:module';
import type { Writable } from 'node:stream';
import { flagWords, formatMsf, wordFinding, type Finding, type PqSheet } from '@oiseau/core';
import PDFDocument from 'pdfkit';

const require = createRequire(import.meta.url);
const REGULAR = require.resolve('dejavu-fonts-ttf/ttf/DejaVuSansCondensed.ttf');
const BOLD = require.resolve('dejavu-fonts-ttf/ttf/DejaVuSansCondensed-Bold.ttf');

const MARGIN = 42;
const ROW = 15;
/** Left edges of the columns on A4, in points, and which of them are numbers. */
const COLUMNS = [
  { name: 'Track', at: 0, wide: 30, right: true },
  { name: 'Index', at: 34, wide: 30, right: true },
  { name: 'Starts at', at: 70, wide: 50, right: true },
  { name: 'Lasts', at: 126, wide: 50, right: true },
  { name: 'Title and performer', at: 188, wide: 210, right: false },
  { name: 'ISRC', at: 404, wide: 84, right: false },
  { name: 'Flags', at: 490, wide: 40, right: false },
] as const;
type Cells = readonly [string, string, string, string, string, string, string];

/** What was accepted, to be printed beside the marks. */
export interface Accepted {
  readonly finding: Finding;
  readonly place: string;
  readonly reason: string;
}

/**
 * The PQ sheet as a PDF, its fonts embedded.
 * @param made day on which it was made, for people
 */
export function writePqPdf(
  sheet: PqSheet,
  accepted: readonly Accepted[],
  made: string,
  target: Writable,
): void {
  const pdf = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    bufferPages: true,
    info: { Title: `${sheet.title} – PQ sheet`, Author: sheet.performer },
  });
  pdf.pipe(target);
  pdf
    .font(BOLD)
    .fontSize(16)
    .text(sheet.title || 'Untitled');
  pdf.font(REGULAR).fontSize(10).text(sheet.performer);
  pdf.moveDown(0.5);
  const facts = [
    ['UPC/EAN', sheet.upc],
    ['Label', sheet.label],
    ['Catalogue number', sheet.catalogNumber],
    ['Disc', sheet.disc],
    ['Tracks', String(sheet.tracks.length)],
    ['Playing time', formatMsf(sheet.playing)],
    ['Lead-out', formatMsf(sheet.leadOut)],
    ['Made on', made],
  ].filter(([, value]) => value !== '');
  pdf
    .fontSize(9)
    .text(facts.map(([name, value]) => `${name}: ${value}`.replaceAll(' ', '\u00a0')).join('   '));
  pdf.moveDown(0.8);

  let y = head(pdf, pdf.y);
  const line = (cells: Cells, bold = false): void => {
    if (y > pdf.page.height - MARGIN - ROW) {
      pdf.addPage();
      y = head(pdf, MARGIN);
    }
    pdf.font(bold ? BOLD : REGULAR).fontSize(8.5);
    COLUMNS.forEach(({ at, wide, right }, i) => {
      pdf.text(cells[i] ?? '', MARGIN + at, y, {
        width: wide,
        height: ROW,
        align: right ? 'right' : 'left',
        lineBreak: false,
        ellipsis: true,
      });
    });
    y += ROW;
  };
  for (const track of sheet.tracks) {
    if (track.pause !== null)
      line(['', '00', formatMsf(track.pause), formatMsf(track.pauseLength), 'pause', '', '']);
    const words = [track.title || 'Untitled', track.performer].filter(Boolean).join(' · ');
    line(
      [
        String(track.number),
        '01',
        formatMsf(track.start),
        formatMsf(track.length),
        words,
        track.isrc,
        flagWords(track),
      ],
      true,
    );
    track.indexes.forEach((at, i) =>
      line(['', String(i + 2).padStart(2, '0'), formatMsf(at), '', '', '', '']),
    );
  }
  line(['', '', formatMsf(sheet.leadOut), '', 'lead-out', '', ''], true);
  if (accepted.length > 0) {
    y += ROW;
    line(['', '', '', '', 'Accepted', '', ''], true);
    pdf.font(REGULAR).fontSize(8.5);
    const texts = accepted.map(
      ({ finding, place, reason }) => `${place}: ${wordFinding(finding)} “${reason}”`,
    );
    pdf.text(texts.join('\n'), MARGIN, y, { width: pdf.page.width - 2 * MARGIN });
  }
  const { start, count } = pdf.bufferedPageRange();
  for (let page = start; page < start + count; page++) {
    pdf.switchToPage(page);
    pdf.page.margins.bottom = 0;
    pdf
      .font(REGULAR)
      .fontSize(8)
      .text(`${page + 1} of ${count}`, MARGIN, pdf.page.height - MARGIN + 12, {
        align: 'right',
        width: pdf.page.width - 2 * MARGIN,
        lineBreak: false,
      });
  }
  pdf.end();
}

/** The heads of the columns, with a rule under them; the height below. */
function head(pdf: PDFKit.PDFDocument, top: number): number {
  pdf.font(REGULAR).fontSize(8);
  COLUMNS.forEach(({ name, at, wide, right }) => {
    pdf.text(name, MARGIN + at, top, { width: wide, align: right ? 'right' : 'left', lineBreak: false });
  });
  pdf
    .moveTo(MARGIN, top + 12)
    .lineTo(pdf.page.width - MARGIN, top + 12)
    .lineWidth(0.5)
    .stroke();
  return top + 17;
}

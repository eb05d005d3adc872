import { describe, expect, it } from 'vitest';
import { paperPdf } from './paper-pdf.js';

const paper = (rows: number, title = 'Nine Tides: “Łódź”') => ({
  ...{ title, author: 'Marram Lamps', what: 'Sheet', notes: ['A note.'] },
  facts: [['Label', 'Low Light'] as const, ['Empty', ''] as const],
  columns: [
    { name: 'No.', share: 10, isNumber: true },
    { name: 'Title', share: 90, isNumber: false },
  ],
  rows: Array.from({ length: rows }, (_, i) => ({ cells: [String(i + 1), `Song ${i + 1}`] })),
});

describe('a sheet for print', () => {
  it('has its fonts in it, and is the same bytes each time', async () => {
    const first = await paperPdf(paper(3));
    const text = first.toString('latin1');
    expect(text).toMatch(/^%PDF-1\.\d/);
    expect(text.trimEnd()).toMatch(/%%EOF$/);
    // The table of places stands where the end says that it does.
    const [, at = '0'] = /startxref\s+(\d+)/.exec(text) ?? [];
    expect(text.slice(Number(at), Number(at) + 4)).toBe('xref');
    expect(text.match(/\/FontFile2 /g)?.length).toBe(2);
    expect((await paperPdf(paper(3))).equals(first)).toBe(true);
    expect((await paperPdf(paper(4))).equals(first)).toBe(false);
  });

  it('goes on over pages, with a long title over several lines', async () => {
    const pages = async (...given: Parameters<typeof paper>): Promise<string | undefined> =>
      /\/Count (\d+)/.exec((await paperPdf(paper(...given))).toString('latin1'))?.[1];
    expect(await pages(3)).toBe('1');
    // 13.9 points a row on some 700 points of a page.
    expect(await pages(120)).toBe('3');
    const long = { ...paper(1), rows: [{ cells: ['1', 'A very long title '.repeat(200)] }] };
    // 3,600 characters are some 30 lines of 11 points: one page; the whole of a text that needs more goes on over the next.
    expect((await paperPdf(long)).toString('latin1')).toContain('/Count 1');
    const longer = { ...paper(1), rows: [{ cells: ['1', 'A very long title '.repeat(2000)] }] };
    expect((await paperPdf(longer)).toString('latin1')).toContain('/Count 5');
  });
});

import { wordPaper } from '@oiseau/formats/disc';
import { figure, msg, type ReaderLanguage } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { paperPdf } from './paper-pdf.js';
import { translatorFor } from './translator.js';

const paper = (rows: number, title = 'Nine Tides: “Łódź”') => ({
  ...{ language: 'en' as const, title, author: 'Marram Lamps', kind: 'Sheet', notes: ['A note.'] },
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

  it('is worded in its language, in a font that has its characters', async () => {
    const labelled = {
      ...paper(1),
      kind: msg('Label copy'),
      facts: [[msg('Catalogue number'), 'LL 7'] as const],
    };
    const fonts = async (language: ReaderLanguage): Promise<string[]> =>
      (await paperPdf({ ...labelled, language })).toString('latin1').match(/\/FontName \/\w+\+[\w-]+/g) ?? [];
    // All is Latin in Spanish; Japanese characters have a font of their own.
    expect((await fonts('es')).join()).not.toContain('NotoSansJP');
    expect((await fonts('ja')).join()).toContain('NotoSansJP');
  });

  it.each([
    ['de', 'Kurzzeit, LUFS', '−9,5'],
    ['fr', 'Court terme, LUFS', '−9,5'],
    ['es', 'Corto plazo, LUFS', '−9,5'],
    ['ja', 'ショートターム (LUFS)', '−9.5'],
  ] as const)('has the terms and the decimal sign of %s', async (language, term, value) => {
    const worded = wordPaper(
      {
        ...{ title: 'Ebb 2.5', author: '', kind: msg('Loudness report'), facts: [], notes: [] },
        columns: [{ name: msg('Short-term, LUFS'), share: 100, isNumber: true }],
        rows: [{ cells: [figure('−9.5')] }, { cells: ['Song 2.5'] }],
      },
      await translatorFor(language),
    );
    expect(worded.columns[0]?.name).toBe(term);
    // A title is text of people: its point stays.
    expect(worded.rows.map(({ cells }) => cells[0])).toEqual([value, 'Song 2.5']);
    expect(worded.title).toBe('Ebb 2.5');
  });
});

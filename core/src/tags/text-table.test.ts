import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { album } from '../testing.js';
import {
  ALBUM_ROW,
  cellFault,
  cellText,
  hasCell,
  inheritedText,
  TABLE_FIELDS,
  writeCells,
  type TableColumn,
  type TableField,
} from './text-table.js';

const of = (field: TableField, second = false): TableColumn => ({ field, second });
const subject = album({}, { performer: 'Sea Pinks' }, {});

describe('the table of words', () => {
  it('shows what a track leaves to the album, but no title and no message', () => {
    expect(cellText(subject, 0, of('performer'))).toBe('');
    expect(inheritedText(subject, 0, of('performer'))).toBe('Marram Lamps');
    expect(cellText(subject, 1, of('performer'))).toBe('Sea Pinks');
    expect(inheritedText(subject, 0, of('title'))).toBe('');
    expect(inheritedText({ ...subject, message: 'Hello' }, 0, of('message'))).toBe('');
    expect([
      hasCell(ALBUM_ROW, of('isrc')),
      hasCell(ALBUM_ROW, of('composer')),
      hasCell(2, of('isrc')),
    ]).toEqual([false, true, true]);
  });

  it('keeps codes in one form and flags as flags', () => {
    const written = writeCells(subject, [
      { row: 0, column: of('isrc'), text: 'zz ois 26 00007' },
      { row: 1, column: of('isrc'), text: 'ZZOIS' },
      { row: 0, column: of('copyPermitted'), text: 'x' },
      { row: 1, column: of('copyPermitted'), text: 'maybe' },
      { row: 2, column: of('advisory'), text: ' Explicit ' },
      { row: ALBUM_ROW, column: of('isrc'), text: 'ZZOIS2600001' },
      { row: 9, column: of('title'), text: 'nowhere' },
    ]);
    expect(written.tracks.map(({ isrc }) => isrc)).toEqual(['ZZOIS2600007', 'ZZOIS', '']);
    expect(cellText(written, 0, of('isrc'))).toBe('ZZ-OIS-26-00007');
    expect(written.tracks.map(({ copyPermitted }) => copyPermitted)).toEqual([true, false, false]);
    expect(cellText(written, 0, of('copyPermitted'))).toBe('yes');
    expect(written.tracks[2]?.advisory).toBe('explicit');
    expect(cellFault(of('isrc'), 'ZZOIS')).toMatch(/5 of 12/);
    expect(cellFault(of('preEmphasis'), 'maybe')).toMatch(/yes/);
    expect(cellFault(of('title'), 'maybe')).toBeUndefined();
  });

  it('has the words of a second language apart from the first', () => {
    const second = { language: 'ja', charset: 'ms-jis', words: {} } as const;
    const written = writeCells({ ...subject, secondLanguage: second }, [
      { row: ALBUM_ROW, column: of('title', true), text: '九つの潮' },
      { row: 0, column: of('title', true), text: '灯' },
    ]);
    expect(written.secondLanguage?.words).toEqual({ title: '九つの潮' });
    expect(written.tracks[0]).toMatchObject({ title: 'Song 1', secondWords: { title: '灯' } });
    const cleared = writeCells(written, [{ row: 0, column: of('title', true), text: '' }]);
    expect(cleared.tracks[0]?.secondWords).toEqual({});
  });

  it('changes nothing when what is written stands there already', () => {
    expect(writeCells(subject, [{ row: 1, column: of('performer'), text: 'Sea Pinks' }])).toBe(subject);
  });

  it('gives back every text that was written into it', () => {
    const plain = fc.constantFrom(...TABLE_FIELDS.slice(0, 9));
    const edit = fc.record({
      row: fc.integer({ min: 0, max: 2 }),
      column: plain.map((field) => of(field)),
      text: fc.string(),
    });
    fc.assert(
      fc.property(fc.array(edit), (edits) => {
        const written = writeCells(subject, edits);
        const last = new Map(edits.map((each) => [`${each.row} ${each.column.field}`, each]));
        for (const { row, column, text } of last.values()) expect(cellText(written, row, column)).toBe(text);
      }),
    );
  });
});

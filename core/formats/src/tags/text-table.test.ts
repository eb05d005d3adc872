import { english, verbatim } from '@oiseau/messages';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { songOf } from '@oiseau/album/model';
import { album } from '@oiseau/album/testing';
import {
  ALBUM_ROW,
  cellFault,
  cellText,
  hasCell,
  inheritedText,
  TABLE_FIELDS,
  tableRows,
  writeCells,
  type TableColumn,
  type TableField,
} from './text-table.js';

const of = (field: TableField, second = false): TableColumn => ({ field, second });
const subject = album({}, { performer: 'Sea Pinks' }, {});

describe('the table of words', () => {
  it('has a row for the album and for every song, a hidden one too', () => {
    const hidden = album({ numbered: false, title: 'Hush' }, {});
    expect(tableRows(hidden)).toEqual([ALBUM_ROW, 't1', 't2']);
    expect(cellText(hidden, 't1', of('title'))).toBe('Hush');
    expect(
      songOf(writeCells(hidden, [{ row: 't1', column: of('composer'), text: 'Ebba' }]), 't1'),
    ).toMatchObject({
      composer: 'Ebba',
      numbered: false,
    });
  });

  it('shows what a track leaves to the album, but no title and no message', () => {
    expect(cellText(subject, 't1', of('performer'))).toBe('');
    expect(inheritedText(subject, 't1', of('performer'))).toBe('Marram Lamps');
    expect(cellText(subject, 't2', of('performer'))).toBe('Sea Pinks');
    expect(inheritedText(subject, 't1', of('title'))).toBe('');
    expect(inheritedText({ ...subject, message: 'Hello' }, 't1', of('message'))).toBe('');
    expect([
      hasCell(ALBUM_ROW, of('isrc')),
      hasCell(ALBUM_ROW, of('composer')),
      hasCell('t3', of('isrc')),
    ]).toEqual([false, true, true]);
  });

  it('keeps codes in one form and flags as flags', () => {
    const written = writeCells(subject, [
      { row: 't1', column: of('isrc'), text: 'zz ois 26 00007' },
      { row: 't2', column: of('isrc'), text: 'ZZOIS' },
      { row: 't1', column: of('copyPermitted'), text: 'x' },
      { row: 't2', column: of('copyPermitted'), text: 'maybe' },
      { row: 't3', column: of('advisory'), text: ' Explicit ' },
      { row: ALBUM_ROW, column: of('isrc'), text: 'ZZOIS2600001' },
      { row: 't10', column: of('title'), text: 'nowhere' },
    ]);
    expect(written.songs.map(({ isrc }) => isrc)).toEqual(['ZZOIS2600007', 'ZZOIS', '']);
    expect(cellText(written, 't1', of('isrc'))).toBe('ZZ-OIS-26-00007');
    expect(written.songs.map(({ copyPermitted }) => copyPermitted)).toEqual([true, false, false]);
    expect(cellText(written, 't1', of('copyPermitted'))).toBe('yes');
    expect(songOf(written, 't3')?.advisory).toBe('explicit');
    expect(english(cellFault(of('isrc'), 'ZZOIS') ?? verbatim(''))).toMatch(/5 of 12/);
    expect(english(cellFault(of('preEmphasis'), 'maybe') ?? verbatim(''))).toMatch(/yes/);
    expect(cellFault(of('title'), 'maybe')).toBeUndefined();
  });

  it('has the words of a second language apart from the first', () => {
    const second = { language: 'ja', charset: 'ms-jis', words: {} } as const;
    const written = writeCells({ ...subject, secondLanguage: second }, [
      { row: ALBUM_ROW, column: of('title', true), text: '九つの潮' },
      { row: 't1', column: of('title', true), text: '灯' },
    ]);
    expect(written.secondLanguage?.words).toEqual({ title: '九つの潮' });
    expect(songOf(written, 't1')).toMatchObject({ title: 'Song 1', secondWords: { title: '灯' } });
    const cleared = writeCells(written, [{ row: 't1', column: of('title', true), text: '' }]);
    expect(songOf(cleared, 't1')?.secondWords).toEqual({});
  });

  it('changes nothing when what is written stands there already', () => {
    expect(writeCells(subject, [{ row: 't2', column: of('performer'), text: 'Sea Pinks' }])).toBe(subject);
  });

  it('gives back every text that was written into it', () => {
    const plain = fc.constantFrom(...TABLE_FIELDS.slice(0, 9));
    const edit = fc.record({
      row: fc.constantFrom('t1', 't2', 't3'),
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

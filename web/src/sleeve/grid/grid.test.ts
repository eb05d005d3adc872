import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blockToText, pasted, textToBlock } from './block-text.js';
import { blockOf, cellsIn, go, leaves, walk, type GridState } from './grid-state.js';

const BOUNDS = { rows: 4, columns: 3 };
const press = (state: GridState, ...keys: string[]): GridState =>
  keys.reduce((now, key) => walk(now, key, BOUNDS) ?? now, state);
const at = (row: number, column: number): GridState => go({ row, column });

describe('walking through the grid', () => {
  it.each<[string[], [number, number]]>([
    [
      ['ArrowDown', 'ArrowRight'],
      [2, 2],
    ],
    [
      ['ArrowUp', 'ArrowUp', 'ArrowUp'],
      [0, 1],
    ],
    [
      ['Tab', 'Tab'],
      [2, 0],
    ],
    [
      ['Shift+Tab', 'Shift+Tab'],
      [0, 2],
    ],
    [['Enter'], [2, 1]],
    [['Shift+Enter'], [0, 1]],
    [['Ctrl+End'], [3, 2]],
    [
      ['Ctrl+End', 'Tab'],
      [3, 2],
    ],
    [['Home'], [1, 0]],
    [['Ctrl+ArrowDown'], [3, 1]],
  ])('%j leads from row 1, column 1 to %j', (keys, [row, column]) => {
    expect(press(at(1, 1), ...keys)).toEqual(go({ row, column }));
  });

  it('extends a block from the cell in hand, back over it too', () => {
    const wide = press(at(1, 1), 'Shift+ArrowDown', 'Shift+ArrowRight');
    expect(blockOf(wide)).toEqual({ top: 1, bottom: 2, left: 1, right: 2 });
    expect(wide.at).toEqual({ row: 1, column: 1 });
    const back = press(wide, 'Shift+ArrowUp', 'Shift+ArrowUp', 'Shift+ArrowLeft');
    expect(blockOf(back)).toEqual({ top: 0, bottom: 1, left: 1, right: 1 });
    expect(blockOf(press(at(1, 1), 'Ctrl+A'))).toEqual({ top: 0, bottom: 3, left: 0, right: 2 });
    expect(cellsIn(blockOf(wide)).length).toBe(4);
  });

  it('never leaves the grid, whatever is pressed', () => {
    const key = fc.constantFrom(
      'ArrowUp',
      'ArrowDown',
      'ArrowLeft',
      'Shift+ArrowRight',
      'Tab',
      'PageDown',
      'Ctrl+A',
    );
    fc.assert(
      fc.property(fc.array(key), (keys) => {
        const { top, left, bottom, right } = blockOf(press(at(1, 1), ...keys));
        expect(top >= 0 && left >= 0 && bottom < 4 && right < 3).toBe(true);
      }),
    );
  });

  it('keeps what is typed on arrows only when it was begun by typing', () => {
    expect([leaves('typing', 'ArrowLeft'), leaves('editing', 'ArrowLeft'), leaves('editing', 'Tab')]).toEqual(
      [true, false, true],
    );
    expect(walk(at(0, 0), 'x', BOUNDS)).toBeNull();
  });
});

describe('blocks on the clipboard', () => {
  it('are rows of cells apart by tabs, quoted where a cell has a tab or a break', () => {
    expect(
      blockToText([
        ['a', 'b'],
        ['c\td', 'e "f"'],
      ]),
    ).toBe('a\tb\r\n"c\td"\t"e ""f"""\r\n');
    expect(textToBlock('a\tb\r\nc\t\r\n')).toEqual([
      ['a', 'b'],
      ['c', ''],
    ]);
    expect(textToBlock('one\n')).toEqual([['one']]);
    expect(textToBlock('')).toEqual([['']]);
  });

  it('come back as they were', () => {
    const cell = fc.string({ unit: fc.constantFrom('a', 'é', '"', '\t', ' ', ','), maxLength: 6 });
    const rows = fc
      .integer({ min: 1, max: 4 })
      .chain((width) =>
        fc.array(fc.array(cell, { minLength: width, maxLength: width }), { minLength: 1, maxLength: 5 }),
      );
    fc.assert(
      fc.property(rows, (data) => {
        expect(textToBlock(blockToText(data))).toEqual(data);
      }),
    );
  });

  it('fill from the corner on, and what lies outside is left out', () => {
    const block = { top: 2, left: 1, bottom: 2, right: 1 };
    const into = (data: string[][], of = block) =>
      pasted(data, of, 4, 3).map(({ place: { row, column }, text }) => `${row},${column} ${text}`);
    expect(
      into([
        ['a', 'b', 'c'],
        ['d', 'e', 'f'],
        ['g', 'h', 'i'],
      ]),
    ).toEqual(['2,1 a', '2,2 b', '3,1 d', '3,2 e']);
    // One cell fills the whole block; two rows fill four of them.
    expect(into([['x']], { top: 0, left: 0, bottom: 1, right: 1 })).toEqual([
      '0,0 x',
      '0,1 x',
      '1,0 x',
      '1,1 x',
    ]);
    expect(into([['a'], ['b']], { top: 0, left: 0, bottom: 3, right: 0 })).toEqual([
      '0,0 a',
      '1,0 b',
      '2,0 a',
      '3,0 b',
    ]);
  });
});

import {
  ALBUM_ROW,
  cellText,
  hasCell,
  tableRows,
  type CellEdit,
  type TableColumn,
  type TableRow,
} from '@oiseau/formats/tags';
import { useAlbum } from '../../album/AlbumContext.js';
import { rowName } from '../row-words.js';
import { blockToText, pasted, textToBlock } from './block-text.js';
import type { ShownColumn } from './GridRow.js';
import { blockOf, cellsIn, type GridState, type Place } from './grid-state.js';
import { t } from '../../ui/messages.js';

const isFlag = ({ field }: TableColumn): boolean => field === 'copyPermitted' || field === 'preEmphasis';

/**
 * What the cells say, and what is done to those that are chosen.
 * @param onWrite writes cells, as one step of undo with these words
 */
export function useGridCells(
  columns: readonly ShownColumn[],
  state: GridState,
  onWrite: (edits: readonly CellEdit[], words: string) => void,
) {
  const { album } = useAlbum('album');
  const inOrder = tableRows(album);
  const tableRow = (row: number): TableRow => inOrder[row] ?? ALBUM_ROW;
  const rows = inOrder.length;
  const block = blockOf(state);
  const textAt = ({ row, column }: Place): string => {
    const of = columns[column];
    return of ? cellText(album, tableRow(row), of) : '';
  };
  const edit = ({ row, column }: Place, text: string): CellEdit[] => {
    const of = columns[column];
    return of && hasCell(tableRow(row), of) ? [{ row: tableRow(row), column: of, text }] : [];
  };

  /** Keeps what was typed into the cell in hand. */
  const keep = (): void => {
    const { draft, at } = state;
    const before = textAt(at);
    if (draft === null || draft === before) return;
    const name = (columns[at.column]?.name ?? '').toLowerCase();
    onWrite(
      edit(at, draft),
      t('{name} of {rowName} “{before}” → “{draft}”', {
        name,
        rowName: rowName(album, tableRow(at.row)),
        before,
        draft,
      }),
    );
  };
  const writeAll = (
    places: readonly Place[],
    text: (place: Place) => string,
    words: (count: number) => string,
  ): void => {
    const edits = places.flatMap((place) => edit(place, text(place)));
    onWrite(edits, words(edits.length));
  };
  const fillDown = (): void => {
    // A single row takes what stands above it.
    const source = block.top === block.bottom ? Math.max(0, block.top - 1) : block.top;
    const targets = cellsIn(block).filter(({ row }) => row > source);
    writeAll(
      targets,
      ({ column }) => textAt({ row: source, column }),
      (count) =>
        t('{count, plural, one {filled down into a cell} other {filled down into # cells}}', { count }),
    );
  };
  const clear = (): void =>
    writeAll(
      cellsIn(block),
      () => '',
      (count) => t('{count, plural, one {a cell cleared} other {# cells cleared}}', { count }),
    );

  /** Switches flags on, or off where the one in hand is on. */
  const flip = (): void =>
    writeAll(
      cellsIn(block),
      () => (textAt(state.at) === '' ? 'yes' : ''),
      (count) => t('{count, plural, one {a cell switched} other {# cells switched}}', { count }),
    );
  const inHand = columns[state.at.column];
  const canFlip = inHand !== undefined && isFlag(inHand);
  /** What is chosen, as text for the clipboard. */
  const copied = (): string => {
    const lines = Array.from({ length: block.bottom - block.top + 1 }, (_, r) =>
      Array.from({ length: block.right - block.left + 1 }, (__, c) =>
        textAt({ row: block.top + r, column: block.left + c }),
      ),
    );
    return blockToText(lines);
  };
  /** Writes text from the clipboard. @returns the last cell that it reached */
  const paste = (text: string): Place | undefined => {
    const cells = pasted(textToBlock(text), block, rows, columns.length);
    const texts = new Map(cells.map(({ place: { row, column }, text: cell }) => [`${row} ${column}`, cell]));
    writeAll(
      cells.map(({ place }) => place),
      ({ row, column }) => texts.get(`${row} ${column}`) ?? '',
      (count) => t('{count, plural, one {a cell pasted} other {# cells pasted}}', { count }),
    );
    return cells.at(-1)?.place;
  };
  return { album, tableRow, rows, block, textAt, keep, fillDown, clear, canFlip, flip, copied, paste };
}

export type GridCells = ReturnType<typeof useGridCells>;

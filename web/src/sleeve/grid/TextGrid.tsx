import {
  ALBUM_ROW,
  cellText,
  hasCell,
  tableRows,
  type CellEdit,
  type TableColumn,
  type TableRow,
} from '@oiseau/core';
import { useEffect, useRef, type ClipboardEvent, type CSSProperties, type KeyboardEvent } from 'react';
import { useAlbum } from '../../album/AlbumContext.js';
import { rowName } from '../row-words.js';
import { useStable } from '../../ui/useStable.js';
import { chord } from '../../ui/useShortcuts.js';
import { blockToText, pasted, textToBlock } from './block-text.js';
import { GridRow, type GridActions, type ShownColumn } from './GridRow.js';
import { blockOf, cellsIn, go, leaves, reach, walk, type GridState, type Place } from './grid-state.js';

interface TextGridProps {
  readonly columns: readonly ShownColumn[];
  readonly state: GridState;
  readonly onState: (state: GridState) => void;
  /** Writes cells, as one step of undo with these words. */
  readonly onWrite: (edits: readonly CellEdit[], words: string) => void;
}

const isFlag = ({ field }: TableColumn): boolean => field === 'copyPermitted' || field === 'preEmphasis';

/** Tracks down, fields across: walks, types, fills, copies and pastes like a spreadsheet. */
export function TextGrid({ columns, state, onState, onWrite }: TextGridProps) {
  const { album } = useAlbum('album');
  const field = useRef<HTMLInputElement>(null);
  const takesKeys = useRef(false);
  const inOrder = tableRows(album);
  const tableRow = (row: number): TableRow => inOrder[row] ?? ALBUM_ROW;
  const rows = inOrder.length;
  const bounds = { rows, columns: columns.length };
  const block = blockOf(state);
  const textAt = ({ row, column }: Place): string => {
    const of = columns[column];
    return of ? cellText(album, tableRow(row), of) : '';
  };
  const edit = ({ row, column }: Place, text: string): CellEdit[] => {
    const of = columns[column];
    return of && hasCell(tableRow(row), of) ? [{ row: tableRow(row), column: of, text }] : [];
  };

  const move = (next: GridState): void => {
    takesKeys.current = true;
    onState(next);
  };
  /** Keeps what was typed into the cell in hand. */
  const keep = (): void => {
    const { draft, at } = state;
    const before = textAt(at);
    if (draft === null || draft === before) return;
    const name = (columns[at.column]?.name ?? '').toLowerCase();
    onWrite(edit(at, draft), `${name} of ${rowName(album, tableRow(at.row))} “${before}” → “${draft}”`);
  };
  const writeAll = (places: readonly Place[], text: (place: Place) => string, words: string): void => {
    const edits = places.flatMap((place) => edit(place, text(place)));
    onWrite(edits, `${words} ${edits.length === 1 ? 'a cell' : `${edits.length} cells`}`);
  };
  const fillDown = (): void => {
    // A single row takes what stands above it.
    const source = block.top === block.bottom ? Math.max(0, block.top - 1) : block.top;
    const targets = cellsIn(block).filter(({ row }) => row > source);
    writeAll(targets, ({ column }) => textAt({ row: source, column }), 'filled down into');
  };
  const clear = (): void => writeAll(cellsIn(block), () => '', 'emptied');

  const key = (event: KeyboardEvent<HTMLInputElement>): void => {
    const pressed = chord(event);
    const { at, mode } = state;
    const column = columns[at.column];
    const run = (act: () => void): void => {
      event.preventDefault();
      // The grid has taken the key; the view's own keys leave it alone.
      event.stopPropagation();
      act();
    };
    if (mode !== 'ready') {
      if (pressed === 'Escape') run(() => move(go(at)));
      else if (leaves(mode, pressed))
        run(() => {
          keep();
          move(walk(go(at), pressed, bounds) ?? go(at));
        });
      return;
    }
    const next = walk(state, pressed, bounds);
    // Tab leaves the grid behind its last cell and before its first.
    const atEnd =
      next !== null && pressed.endsWith('Tab') && next.at.row === at.row && next.at.column === at.column;
    if (next && !atEnd) run(() => move(next));
    else if (pressed === 'F2') run(() => move({ ...state, mode: 'editing', draft: textAt(at) }));
    else if (pressed === 'Delete' || pressed === 'Backspace') run(clear);
    else if (pressed === 'Ctrl+D') run(fillDown);
    else if (pressed === 'Space' && column && isFlag(column))
      run(() => writeAll(cellsIn(block), () => (textAt(at) === '' ? 'yes' : ''), 'switched'));
  };
  const copy = (event: ClipboardEvent<HTMLInputElement>): void => {
    if (state.mode !== 'ready') return;
    event.preventDefault();
    const lines = Array.from({ length: block.bottom - block.top + 1 }, (_, r) =>
      Array.from({ length: block.right - block.left + 1 }, (__, c) =>
        textAt({ row: block.top + r, column: block.left + c }),
      ),
    );
    event.clipboardData.setData('text/plain', blockToText(lines));
  };
  const paste = (event: ClipboardEvent<HTMLInputElement>): void => {
    if (state.mode !== 'ready') return;
    event.preventDefault();
    const cells = pasted(textToBlock(event.clipboardData.getData('text/plain')), block, rows, columns.length);
    const texts = new Map(cells.map(({ place: { row, column }, text }) => [`${row} ${column}`, text]));
    writeAll(
      cells.map(({ place }) => place),
      ({ row, column }) => texts.get(`${row} ${column}`) ?? '',
      'pasted',
    );
    const last = cells.at(-1)?.place;
    if (last) move(reach(go({ row: block.top, column: block.left }), last));
  };

  // Another cell in hand is another field: it gets the keys when a key or a press led there.
  const { at, mode } = state;
  useEffect(() => {
    const input = field.current;
    if (!input || !takesKeys.current) return;
    takesKeys.current = false;
    input.focus();
    if (mode === 'ready') input.select();
    else input.setSelectionRange(input.value.length, input.value.length);
    input.scrollIntoView({ block: 'nearest' });
  }, [at, mode]);

  const actions = useStable<GridActions>({
    press: (place, extend) => {
      keep();
      move(extend ? reach(state, place) : go(place));
    },
    sweep: (place) => onState(reach(state, place)),
    open: (place) => move({ ...go(place), mode: 'editing', draft: textAt(place) }),
    type: (text) =>
      onState({ ...state, corner: state.at, mode: mode === 'editing' ? mode : 'typing', draft: text }),
    key,
    copy,
    cut: (event) => {
      copy(event);
      if (state.mode === 'ready') clear();
    },
    paste,
    select: () => {
      if (state.mode === 'ready') field.current?.select();
    },
    leave: () => {
      keep();
      if (state.draft !== null) onState(go(state.at));
    },
  });
  const template = `2.6rem ${columns.map(({ wide }) => `minmax(0, ${wide}fr)`).join(' ')}`;
  return (
    <div
      className="text-grid"
      role="grid"
      aria-label="Words and codes"
      aria-multiselectable
      style={{ '--columns': template } as CSSProperties}
    >
      <div className="grid-row grid-head" role="row">
        <span role="columnheader" className="num">
          No.
        </span>
        {columns.map(({ name }) => (
          <span key={name} role="columnheader">
            {name}
          </span>
        ))}
      </div>
      {Array.from({ length: rows }, (_, row) => {
        const inBlock = row >= block.top && row <= block.bottom;
        const inHand = row === at.row;
        return (
          <GridRow
            key={tableRow(row) ?? 'album'}
            album={album}
            of={tableRow(row)}
            row={row}
            columns={columns}
            left={inBlock ? block.left : -1}
            right={inBlock ? block.right : -1}
            column={inHand ? at.column : -1}
            draft={inHand ? state.draft : null}
            field={inHand ? field : null}
            actions={actions}
          />
        );
      })}
    </div>
  );
}

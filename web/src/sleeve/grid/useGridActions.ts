import { useCallback, useEffect, useRef, type ClipboardEvent, type KeyboardEvent } from 'react';
import { chord } from '../../ui/useShortcuts.js';
import { useStable } from '../../ui/useStable.js';
import type { GridActions } from './GridRow.js';
import { go, leaves, reach, walk, type GridState } from './grid-state.js';
import type { GridCells } from './useGridCells.js';

/** The field of the cell in hand. Another cell has another field: it gets the keys when a key or a press led there. */
function useFieldInHand({ at, mode }: GridState) {
  const field = useRef<HTMLInputElement>(null);
  const takesKeys = useRef(false);
  useEffect(() => {
    const input = field.current;
    if (!input || !takesKeys.current) return;
    takesKeys.current = false;
    input.focus();
    if (mode === 'ready') input.select();
    else input.setSelectionRange(input.value.length, input.value.length);
    input.scrollIntoView({ block: 'nearest' });
  }, [at, mode]);
  const takeKeys = useCallback(() => void (takesKeys.current = true), []);
  return { field, takeKeys };
}

/**
 * What keys, presses and the clipboard do in the grid. One field stands in the cell in hand and takes them all.
 * @param columns how many there are
 */
export function useGridActions(
  columns: number,
  state: GridState,
  cells: GridCells,
  onState: (state: GridState) => void,
) {
  const { field, takeKeys } = useFieldInHand(state);
  const { mode } = state;
  const { rows, block, textAt } = cells;
  const bounds = { rows, columns };

  const move = (next: GridState): void => {
    takeKeys();
    onState(next);
  };
  const key = (event: KeyboardEvent<HTMLInputElement>): void => {
    const pressed = chord(event);
    const { at } = state;
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
          cells.keep();
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
    else if (pressed === 'Delete' || pressed === 'Backspace') run(cells.clear);
    else if (pressed === 'Ctrl+D') run(cells.fillDown);
    else if (pressed === 'Space' && cells.canFlip) run(cells.flip);
  };
  const copy = (event: ClipboardEvent<HTMLInputElement>): void => {
    if (state.mode !== 'ready') return;
    event.preventDefault();
    event.clipboardData.setData('text/plain', cells.copied());
  };
  const paste = (event: ClipboardEvent<HTMLInputElement>): void => {
    if (state.mode !== 'ready') return;
    event.preventDefault();
    const last = cells.paste(event.clipboardData.getData('text/plain'));
    if (last) move(reach(go({ row: block.top, column: block.left }), last));
  };

  const actions = useStable<GridActions>({
    press: (place, extend) => {
      cells.keep();
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
      if (state.mode === 'ready') cells.clear();
    },
    paste,
    select: () => {
      if (state.mode === 'ready') field.current?.select();
    },
    leave: () => {
      cells.keep();
      if (state.draft !== null) onState(go(state.at));
    },
  });
  return { field, actions };
}

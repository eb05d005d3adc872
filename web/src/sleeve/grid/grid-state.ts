/** A cell by its place: row 0 is the album, row n track n. */
export interface Place {
  readonly row: number;
  readonly column: number;
}

/** Cells from a corner to the other, both among them. */
export interface Block {
  readonly top: number;
  readonly left: number;
  readonly bottom: number;
  readonly right: number;
}

/**
 * `ready`: keys walk, typing replaces. `typing`: what was begun by typing; arrows keep it and walk on. `editing`: opened
 * to be changed, where arrows move within the text.
 */
export type Mode = 'ready' | 'typing' | 'editing';

export interface GridState {
  /** The cell in hand. */
  readonly at: Place;
  /** The corner that the chosen block reaches to from there. */
  readonly corner: Place;
  readonly mode: Mode;
  /** What stands in the field while it is typed. */
  readonly draft: string | null;
}

export const START: GridState = {
  at: { row: 1, column: 0 },
  corner: { row: 1, column: 0 },
  mode: 'ready',
  draft: null,
};

export function blockOf({ at, corner }: GridState): Block {
  return {
    top: Math.min(at.row, corner.row),
    bottom: Math.max(at.row, corner.row),
    left: Math.min(at.column, corner.column),
    right: Math.max(at.column, corner.column),
  };
}

export const cellsIn = ({ top, left, bottom, right }: Block): Place[] =>
  Array.from({ length: bottom - top + 1 }, (_, r) =>
    Array.from({ length: right - left + 1 }, (__, c) => ({ row: top + r, column: left + c })),
  ).flat();

/** Takes one cell in hand and lets go of the block. */
export const go = (to: Place): GridState => ({ at: to, corner: to, mode: 'ready', draft: null });

/** Lets the block reach to a cell. */
export const reach = (state: GridState, to: Place): GridState => ({
  ...state,
  corner: to,
  mode: 'ready',
  draft: null,
});

interface Bounds {
  readonly rows: number;
  readonly columns: number;
}

/**
 * Where a key leads; null when it does not walk. Tab goes through the cells row by row, Enter down.
 * @param chord as in `useShortcuts`
 */
export function walk(state: GridState, chord: string, { rows, columns }: Bounds): GridState | null {
  const clamp = ({ row, column }: Place): Place => ({
    row: Math.max(0, Math.min(rows - 1, row)),
    column: Math.max(0, Math.min(columns - 1, column)),
  });
  const { at, corner } = state;
  const by = (from: Place, row: number, column: number): Place =>
    clamp({ row: from.row + row, column: from.column + column });
  const along = (step: 1 | -1): Place => {
    const place = at.row * columns + at.column + step;
    if (place < 0 || place >= rows * columns) return at;
    return { row: Math.floor(place / columns), column: place % columns };
  };
  const places: Readonly<Record<string, () => GridState>> = {
    ArrowUp: () => go(by(at, -1, 0)),
    ArrowDown: () => go(by(at, 1, 0)),
    ArrowLeft: () => go(by(at, 0, -1)),
    ArrowRight: () => go(by(at, 0, 1)),
    Tab: () => go(along(1)),
    'Shift+Tab': () => go(along(-1)),
    Enter: () => go(by(at, 1, 0)),
    'Shift+Enter': () => go(by(at, -1, 0)),
    PageUp: () => go(by(at, -10, 0)),
    PageDown: () => go(by(at, 10, 0)),
    Home: () => go({ row: at.row, column: 0 }),
    End: () => go({ row: at.row, column: columns - 1 }),
    'Ctrl+Home': () => go({ row: 0, column: 0 }),
    'Ctrl+End': () => go({ row: rows - 1, column: columns - 1 }),
    'Ctrl+ArrowUp': () => go({ row: 0, column: at.column }),
    'Ctrl+ArrowDown': () => go({ row: rows - 1, column: at.column }),
    'Shift+ArrowUp': () => reach(state, by(corner, -1, 0)),
    'Shift+ArrowDown': () => reach(state, by(corner, 1, 0)),
    'Shift+ArrowLeft': () => reach(state, by(corner, 0, -1)),
    'Shift+ArrowRight': () => reach(state, by(corner, 0, 1)),
    'Ctrl+Shift+ArrowUp': () => reach(state, { row: 0, column: corner.column }),
    'Ctrl+Shift+ArrowDown': () => reach(state, { row: rows - 1, column: corner.column }),
    'Ctrl+A': () => reach(go({ row: 0, column: 0 }), { row: rows - 1, column: columns - 1 }),
  };
  return places[chord]?.() ?? null;
}

/** Whether a key leaves a field that is being typed into, keeping what stands there. */
export function leaves(mode: Mode, chord: string): boolean {
  if (['Enter', 'Shift+Enter', 'Tab', 'Shift+Tab'].includes(chord)) return true;
  return mode === 'typing' && ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight'].includes(chord);
}

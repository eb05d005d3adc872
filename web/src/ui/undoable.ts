/** A state with its past and future. */
export interface Undoable<T> {
  readonly now: T;
  readonly past: readonly T[];
  readonly future: readonly T[];
}

export type UndoableAction<T> =
  /** `merge`: goes on with the step before, as the moves of one drag do. */
  | { readonly type: 'changed'; readonly to: T; readonly merge?: boolean }
  | { readonly type: 'undone' }
  | { readonly type: 'redone' };

export const startUndoable = <T>(now: T): Undoable<T> => ({ now, past: [], future: [] });

export function undoableReducer<T>(state: Undoable<T>, action: UndoableAction<T>): Undoable<T> {
  switch (action.type) {
    case 'changed': {
      if (action.to === state.now) return state;
      return { now: action.to, past: action.merge ? state.past : [...state.past, state.now], future: [] };
    }
    case 'undone': {
      const before = state.past.at(-1);
      if (before === undefined) return state;
      return { now: before, past: state.past.slice(0, -1), future: [state.now, ...state.future] };
    }
    case 'redone': {
      const [next, ...future] = state.future;
      if (next === undefined) return state;
      return { now: next, past: [...state.past, state.now], future };
    }
    default:
      return action satisfies never;
  }
}

import { describe, expect, it } from 'vitest';
import { startUndoable, undoableReducer, type Undoable, type UndoableAction } from './undoable.js';

const run = (...actions: UndoableAction<number>[]): Undoable<number> =>
  actions.reduce(undoableReducer<number>, startUndoable(0));
const to = (value: number, merge = false): UndoableAction<number> => ({ type: 'changed', to: value, merge });

describe('an undoable state', () => {
  it('goes back and forth, and drops what was undone when something new is done', () => {
    expect(run(to(1), to(2), { type: 'undone' })).toEqual({ now: 1, past: [0], future: [2] });
    expect(run(to(1), to(2), { type: 'undone' }, { type: 'redone' })).toEqual({
      now: 2,
      past: [0, 1],
      future: [],
    });
    expect(run(to(1), { type: 'undone' }, to(3))).toEqual({ now: 3, past: [0], future: [] });
  });
  it('takes the moves of one drag for one step', () => {
    expect(run(to(1), to(2, true), to(3, true), { type: 'undone' }).now).toBe(0);
  });
  it('stays where there is nothing to go back to, and where nothing changed', () => {
    expect(run({ type: 'undone' }, { type: 'redone' }, to(0))).toEqual(startUndoable(0));
  });
});

import { newAlbum, type Album } from '@oiseau/album/model';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { editingReducer, isDirty, startEditing, type Editing, type EditingAction } from './history.js';

const album = (title: string): Album => newAlbum(title);
const run = (state: Editing, ...actions: EditingAction[]): Editing => actions.reduce(editingReducer, state);
const edit = (title: string): EditingAction => ({
  type: 'edited',
  album: album(title),
  words: `title ${title}`,
});

describe('editing', () => {
  it('undoes and redoes, naming each step in words', () => {
    const edited = run(startEditing(album('a'), 1), edit('b'), edit('c'));
    expect(edited.past.map(({ words }) => words)).toEqual(['title b', 'title c']);
    const back = run(edited, { type: 'undone' }, { type: 'undone' }, { type: 'undone' });
    expect([back.album.title, back.past.length, back.future.length]).toEqual(['a', 0, 2]);
    expect(back.future[0]?.words).toBe('title b');
    expect(run(back, { type: 'redone' }, { type: 'redone' }).album.title).toBe('c');
  });

  it('makes one step of edits that follow each other with one key, in words from the first to the last', () => {
    const nudge = (title: string, mergeKey: string): EditingAction => ({
      type: 'edited',
      album: album(title),
      words: (before, after) => `title ${before.title} → ${after.title}`,
      mergeKey,
    });
    const state = run(startEditing(album('a'), 1), nudge('b', 'k'), nudge('c', 'k'), nudge('d', 'other'));
    expect(state.past.map(({ words }) => words)).toEqual(['title a → c', 'title c → d']);
    expect(run(state, { type: 'undone' }, { type: 'undone' }).album.title).toBe('a');
    // After an undo, and after another edit, a new step begins.
    const anew = run(state, { type: 'undone' }, nudge('e', 'k'));
    expect(anew.past.map(({ words }) => words)).toEqual(['title a → c', 'title c → e']);
    const between = run(startEditing(album('a'), 1), nudge('b', 'k'), edit('x'), nudge('c', 'k'));
    expect(between.past.length).toBe(3);
  });

  it('drops what was undone when something new is done', () => {
    const state = run(startEditing(album('a'), 1), edit('b'), { type: 'undone' }, edit('x'));
    expect([state.album.title, state.future]).toEqual(['x', []]);
  });

  it('knows what is not saved, also when an edit comes while saving', () => {
    const first = run(startEditing(album('a'), 1), edit('b'));
    const sent = first.album;
    const later = run(first, { type: 'saving' }, edit('c'), { type: 'saved', album: sent, version: 2 });
    expect([isDirty(later), later.version]).toEqual([true, 2]);
    const saved = run(later, { type: 'saved', album: later.album, version: 3 });
    expect(isDirty(saved)).toBe(false);
  });

  it('takes over another window’s album as a step that can be undone', () => {
    const state = run(startEditing(album('mine'), 1), {
      type: 'taken over',
      album: album('theirs'),
      version: 5,
    });
    expect([state.album.title, state.version, isDirty(state)]).toEqual(['theirs', 5, false]);
    expect(run(state, { type: 'undone' }).album.title).toBe('mine');
  });

  it('whatever is edited, undone and redone, undoing everything leads back to the start', () => {
    const action = fc.oneof(
      fc.string().map(edit),
      fc.constant<EditingAction>({ type: 'undone' }),
      fc.constant<EditingAction>({ type: 'redone' }),
    );
    fc.assert(
      fc.property(fc.array(action, { maxLength: 40 }), (actions) => {
        const start = startEditing(album('start'), 1);
        let state = run(start, ...actions);
        while (state.past.length > 0) state = editingReducer(state, { type: 'undone' });
        expect(state.album).toBe(start.album);
      }),
    );
  });
});

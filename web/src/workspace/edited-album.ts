import type { AlbumRecord, MasterRecord } from '@oiseau/api';
import { changeEdition } from '@oiseau/album/edits';
import { layOutPart } from '@oiseau/album/layout';
import type { Album } from '@oiseau/album/model';
import {
  byKey,
  laidOut,
  shownEdition,
  stateOf,
  type AlbumChange,
  type AlbumState,
  type Draft,
} from './album-state.js';
import { editingReducer, withoutStep, type Editing, type EditingAction, type EditWords } from './history.js';
import { t } from '../ui/messages.js';

/** What became of a step that was to be taken back: a later one may have changed the same place. */
export type TakenBack = 'taken back' | 'not there any more' | 'in the way of a later edit';

/**
 * An album in hand: what stands, and the steps that led to it. Every edit works on what stands at that moment, not on what was drawn last.
 * Its functions may be handed on by themselves.
 */
export class EditedAlbum {
  #state: AlbumState;
  /** The number of the part that is shown. */
  #shown = 1;
  readonly #listeners = new Set<() => void>();
  /** Is called after each action: the time to keep and save what has changed. */
  onAction: () => void = () => undefined;

  constructor(record: AlbumRecord, masters: readonly MasterRecord[]) {
    this.#state = stateOf(record, masters);
  }

  readonly state = (): AlbumState => this.#state;

  /** @returns the way to end it */
  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  #become(next: AlbumState): void {
    this.#state = next;
    for (const listener of [...this.#listeners]) listener();
  }

  #laidOut(
    album = this.#state.album,
    whole = this.#state.editing.album,
    mastersById = this.#state.mastersById,
  ) {
    return laidOut(album, whole, mastersById, this.#shown);
  }

  /** Does several actions as one change. */
  dispatch(...actions: readonly EditingAction[]): void {
    const before = this.#state;
    const editing = actions.reduce(editingReducer, before.editing);
    if (editing === before.editing) return;
    if (editing.album === before.editing.album) this.#become({ ...before, editing });
    else this.#show(editing, before.edition);
    this.onAction();
  }

  /** Shows an edition of an edited album. What is dragged began from a state that is gone. */
  #show(editing: Editing, edition: string): void {
    const shown = shownEdition(editing.album, edition);
    this.#become({
      ...this.#state,
      editing,
      ...shown,
      ...this.#laidOut(shown.album, editing.album),
      draft: null,
    });
  }

  /** Shows and lets hear another edition. */
  readonly showEdition = (name: string): void => {
    this.#shown = 1;
    this.#show(this.#state.editing, name);
  };

  /** Makes an edit of the whole album, such as of its list of editions. @returns as `edit` */
  readonly editWhole = (
    words: EditWords,
    change: (album: Album) => Album,
    mergeKey?: string,
  ): number | null => {
    const { album } = this.#state.editing;
    const next = change(album);
    if (next === album) return null;
    this.dispatch({ type: 'edited', album: next, words, mergeKey });
    return this.#state.editing.past.at(-1)?.id ?? null;
  };

  /**
   * Makes `change` of the album, or of the edition that is shown, as one step that can be undone; `words` name it. Edits that follow each other with one
   * `mergeKey` are one step together.
   * @returns the step's name for `takeBack`; null where nothing changed
   */
  readonly edit = (words: EditWords, change: AlbumChange, mergeKey?: string): number | null => {
    const { edition } = this.#state;
    const changed = (album: Album): Album => change(album, this.#state);
    return this.editWhole(
      words,
      edition === '' ? changed : (whole) => changeEdition(whole, edition, changed),
      mergeKey,
    );
  };

  /** Shows and lets hear what an edit would make of the album, until it is made or another one comes; null: it is not made. */
  readonly preview = (change: AlbumChange | null): Draft | null => {
    const { album: now, facts, part, draft: before } = this.#state;
    const album = change?.(now, this.#state);
    const draft = album ? { album, part: layOutPart(album, facts, part.number) } : null;
    if (draft || before) this.#become({ ...this.#state, draft });
    return draft;
  };

  /** Shows and lets hear another part. @param number from 1 */
  readonly showPart = (number: number): void => {
    if (number === this.#shown) return;
    this.#shown = number;
    this.#become({ ...this.#state, ...this.#laidOut() });
  };

  readonly undo = (steps = 1): void => this.dispatch(...Array.from({ length: steps }, () => UNDONE));
  readonly redo = (steps = 1): void => this.dispatch(...Array.from({ length: steps }, () => REDONE));

  /** Takes back one step and no other, whatever was done since; that is a step itself unless the step was the last. */
  readonly takeBack = (id: number): TakenBack => {
    const { editing } = this.#state;
    if (editing.past.at(-1)?.id === id) {
      this.dispatch(UNDONE);
      return 'taken back';
    }
    const album = withoutStep(editing, id);
    if (album === 'gone') return 'not there any more';
    if (album === null) return 'in the way of a later edit';
    const words = editing.past.find((step) => step.id === id)?.words ?? '';
    this.dispatch({ type: 'edited', album, words: t('undone: {words}', { words }) });
    return 'taken back';
  };

  readonly noteMasters = (newest: readonly MasterRecord[]): void => {
    if (newest === this.#state.masters) return;
    const mastersById = byKey(newest);
    this.#become({
      ...this.#state,
      masters: newest,
      mastersById,
      ...this.#laidOut(undefined, undefined, mastersById),
    });
  };
}

const UNDONE = { type: 'undone' } as const;
const REDONE = { type: 'redone' } as const;

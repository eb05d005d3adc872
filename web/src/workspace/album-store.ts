import { ApiFailure, type AlbumRecord, type MasterRecord } from '@oiseau/api';
import { layOutAlbum, type Part } from '@oiseau/album/layout';
import { mastersPlayed, type Album, type MasterFactsByKey } from '@oiseau/album/model';
import { sameValue } from '@oiseau/album/edits';
import {
  editingReducer,
  isDirty,
  startEditing,
  withoutStep,
  type Editing,
  type EditingAction,
  type EditWords,
} from './history.js';
import { together, type NewerAlbum } from './merging.js';
import type { UnsavedEdits, UnsavedKeeper } from './unsaved-edits.js';

/** How long typing must rest before an edit goes to the server, and how long to wait after a failure. */
const SAVE_AFTER_MS = 350;
const RETRY_MS = 3000;

const IN_CONFLICT =
  'Someone else has changed the same fields of this album. Choose whose version stays first.';

/** Where the album is kept. */
export interface AlbumServer {
  /**
   * Saves a state over a version, and gives the new version.
   * @param saved what the server has under that version: only what differs is sent
   * @param closing the window is about to go: the call must outlive it
   * @throws ApiFailure 409 where the album has moved on
   */
  save(version: number, album: Album, saved: Album, closing: boolean): Promise<number>;
  /** The states that came after a version, in order; the newest alone where those between are not known. @param saved what the server had under that version */
  since(version: number, saved: Album): Promise<readonly NewerAlbum[]>;
}

/** The album in hand, with what follows from it. */
export interface AlbumState {
  readonly editing: Editing;
  readonly album: Album;
  readonly masters: readonly MasterRecord[];
  readonly mastersById: ReadonlyMap<string, MasterRecord>;
  /** Rate and length of every master that the album plays, in any of its recordings. */
  readonly facts: MasterFactsByKey;
  /** The album laid out. */
  readonly parts: readonly Part[];
  /** The part that is shown and heard. */
  readonly part: Part;
}

/** An edit: what becomes of the album, as it stands when the edit is made; `now` is what follows from it there. */
export type AlbumChange = (album: Album, now: Pick<AlbumState, 'part' | 'facts'>) => Album;

/** What became of a step that was to be taken back: a later one may have changed the same place. */
export type TakenBack = 'taken back' | 'not there any more' | 'in the way of a later edit';

/** What can be done with it. The functions are the same as long as the store is. */
export interface AlbumDeeds {
  /**
   * Makes `change` of the album, as one step that can be undone; `words` name it. Edits that follow each other with one
   * `mergeKey` are one step together.
   * @returns the step's name for `takeBack`; null where nothing changed
   */
  edit(words: EditWords, change: AlbumChange, mergeKey?: string): number | null;
  undo(steps?: number): void;
  redo(steps?: number): void;
  /** Takes back one step and no other, whatever was done since; that is a step itself unless the step was the last. */
  takeBack(step: number): TakenBack;
  /** Shows and lets hear another part. @param number from 1 */
  showPart(number: number): void;
  /** Resolves when everything is on the server. */
  saveNow(): Promise<void>;
  /** Ends a conflict: both states are put together, and where both have changed one place it is as `winner` has it. That can be undone. */
  resolve(winner: 'mine' | 'theirs'): void;
  /** Gives up the own edits for the server's state. */
  takeOver(): Promise<void>;
}

export interface AlbumStore extends AlbumDeeds {
  state(): AlbumState;
  /** @returns the way to end it */
  subscribe(listener: () => void): () => void;
  /** What the server has now, which somebody else may have written. */
  noteServer(newer: NewerAlbum): void;
  /** The server has this version: what led to it is fetched unless it is one's own. */
  catchUp(version: number): Promise<void>;
  noteMasters(masters: readonly MasterRecord[]): void;
  /** Goes on from edits that an earlier window has left, as one step. @returns the step's name for `takeBack`; null where they are what stands */
  resume(left: UnsavedEdits): number | null;
  /** Calls `listener` with what somebody else has made of the state `before`, as it is taken in. @returns the way to end it */
  onMerged(listener: (theirs: NewerAlbum, before: Album) => void): () => void;
  /** Somebody looks at it. @returns what is to be called when they leave: it saves what is not saved yet; what does not arrive stays with the keeper for the next visit */
  attend(): () => void;
  /** Saves what is not saved yet in the last moment of a window. */
  saveClosing(): void;
}

/** An album laid out; a song whose master the server has not told of yet counts as silent for the moment. */
function laidOut(album: Album, mastersById: ReadonlyMap<string, MasterRecord>, number: number) {
  const facts = new Map(
    mastersPlayed(album).map((master) => [
      master,
      mastersById.get(master)?.info ?? { rate: 44_100, length: 0 },
    ]),
  );
  const parts = layOutAlbum(album, facts);
  return { facts, parts, part: parts[Math.min(number, parts.length) - 1] ?? parts[0] };
}

const byKey = (masters: readonly MasterRecord[]): ReadonlyMap<string, MasterRecord> =>
  new Map(masters.map((master) => [master.sha256, master]));

function stateOf(record: AlbumRecord, masters: readonly MasterRecord[]): AlbumState {
  const { album, version } = record;
  const mastersById = byKey(masters);
  return {
    ...{ editing: startEditing(album, version), album, masters, mastersById },
    ...laidOut(album, mastersById, 1),
  };
}

/**
 * The one owner of an album that is edited: what stands, the steps that led to it, and how it stands with the server. It saves by itself,
 * never over what somebody else has saved. Every deed works on what stands at that moment, not on what was drawn last.
 */
export function createAlbumStore(
  record: AlbumRecord,
  masters: readonly MasterRecord[],
  server: AlbumServer,
  unsaved: UnsavedKeeper = { put: () => undefined, clear: () => undefined },
): AlbumStore {
  let state = stateOf(record, masters);
  /** The number of the part that is shown. */
  let shown = 1;
  let running: Promise<void> | null = null;
  let catching: Promise<void> | null = null;
  /** The newest version that somebody has told of. */
  let wanted = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  /** States that went out over the version in hand and that nobody has answered: what the server has may be one of them. */
  let sent: readonly Album[] = [];
  let kept: UnsavedEdits | null = null;
  /** Nobody looks at it any more: what could not be saved is for the next visit. */
  let left = false;
  const listeners = new Set<() => void>();
  const merging = new Set<(theirs: NewerAlbum, before: Album) => void>();

  const become = (next: AlbumState): void => {
    if (next === state) return;
    state = next;
    for (const listener of [...listeners]) listener();
  };
  const dispatch = (...actions: readonly EditingAction[]): void => {
    const editing = actions.reduce(editingReducer, state.editing);
    if (editing === state.editing) return;
    const { album } = editing;
    const laid = album === state.album ? {} : laidOut(album, state.mastersById, shown);
    become({ ...state, editing, album, ...laid });
    keep();
    saveSoon();
  };
  /** Whether the server may have another state than what stands. */
  const isUnsaved = (): boolean => isDirty(state.editing) || sent.length > 0;
  const keep = (): void => {
    const { version, album } = state.editing;
    const now = isUnsaved() ? { version, album, sent } : null;
    if (now?.album === kept?.album && now?.version === kept?.version && now?.sent === kept?.sent) return;
    kept = now;
    if (now) unsaved.put(now);
    else unsaved.clear();
  };
  /** What the server has is one of the states that were sent and not answered, or what was there before: that is no conflict. @returns whether it is */
  const recognise = (record: Pick<AlbumRecord, 'album' | 'version'>): boolean => {
    const own = [...sent, state.editing.savedAlbum].find((album) => sameValue(album, record.album));
    if (!own) return false;
    sent = [];
    dispatch({ type: 'saved', album: own, version: record.version });
    return true;
  };
  /** Takes in what somebody else has made of the album, or stops at a conflict. */
  const meet = (newer: NewerAlbum): void => {
    const { editing } = state;
    if (newer.version <= editing.version || recognise(newer)) return;
    const { savedAlbum } = editing;
    // What led to a state that came alone may hold own edits that nobody has answered: they can't be told from others'.
    const isClear = newer.who !== null || sent.length === 0;
    const { mine, theirs } = together(savedAlbum, state.album, newer.album);
    if (mine !== theirs || !isClear) return dispatch({ type: 'conflicted', theirs: newer });
    sent = [];
    dispatch({ type: 'merged', theirs: newer, album: mine });
    for (const listener of [...merging]) listener(newer, savedAlbum);
  };

  const saveSoon = (): void => {
    clearTimeout(timer);
    const { editing } = state;
    if (left || !isUnsaved() || editing.saving === 'conflict') return;
    timer = setTimeout(
      () => void saveNow().catch(() => undefined),
      editing.saving === 'failed' ? RETRY_MS : SAVE_AFTER_MS,
    );
  };
  const saveOnce = async (closing: boolean): Promise<void> => {
    const { album, version, savedAlbum } = state.editing;
    sent = [...sent.filter((state) => state !== album), album];
    dispatch({ type: 'saving' });
    try {
      const saved = await server.save(version, album, savedAlbum, closing);
      sent = [];
      dispatch({ type: 'saved', album, version: saved });
    } catch (error) {
      const status = error instanceof ApiFailure ? error.status : 0;
      const there = status === 409 ? await server.since(version, savedAlbum).catch(() => []) : [];
      there.forEach(meet);
      // Taken in or met with a conflict, which is told: what is still unsaved is saved over it.
      if (there.length > 0) return;
      // What was refused has not arrived; where there was no answer, nobody knows.
      if (status >= 400 && status < 500) sent = sent.filter((state) => state !== album);
      dispatch({ type: 'save failed', message: error instanceof Error ? error.message : String(error) });
      throw error;
    }
  };
  const saveNow = async (): Promise<void> => {
    while (running || (isUnsaved() && state.editing.saving !== 'conflict')) {
      running ??= saveOnce(false).finally(() => (running = null));
      await running;
    }
    if (state.editing.saving === 'conflict') throw new ApiFailure(409, IN_CONFLICT);
  };

  return {
    state: () => state,
    subscribe(listener) {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    edit(words, change, mergeKey) {
      const album = change(state.album, state);
      if (album === state.album) return null;
      dispatch({ type: 'edited', album, words, mergeKey });
      return state.editing.past.at(-1)?.id ?? null;
    },
    showPart(number) {
      if (number === shown) return;
      shown = number;
      become({ ...state, ...laidOut(state.album, state.mastersById, shown) });
    },
    undo: (steps = 1) => dispatch(...Array.from({ length: steps }, () => ({ type: 'undone' }) as const)),
    redo: (steps = 1) => dispatch(...Array.from({ length: steps }, () => ({ type: 'redone' }) as const)),
    takeBack(id) {
      const last = state.editing.past.at(-1);
      if (last?.id === id) {
        dispatch({ type: 'undone' });
        return 'taken back';
      }
      const album = withoutStep(state.editing, id);
      if (album === 'gone') return 'not there any more';
      if (album === null) return 'in the way of a later edit';
      const words = state.editing.past.find((step) => step.id === id)?.words ?? '';
      dispatch({ type: 'edited', album, words: `taken back: ${words}` });
      return 'taken back';
    },
    saveNow,
    resolve(winner) {
      const { theirs, savedAlbum } = state.editing;
      if (!theirs) return;
      const merged = together(savedAlbum, state.album, theirs.album);
      sent = [];
      dispatch({ type: 'merged', theirs, album: merged.mine });
      if (winner === 'theirs') dispatch({ type: 'edited', album: merged.theirs, words: 'their version' });
    },
    async takeOver() {
      const { theirs, version, savedAlbum } = state.editing;
      const newest = theirs ?? (await server.since(version, savedAlbum)).at(-1);
      sent = [];
      if (newest) dispatch({ type: 'taken over', ...newest });
    },
    noteServer(newer) {
      if (!running) meet(newer);
    },
    catchUp(version) {
      wanted = Math.max(wanted, version);
      catching ??= (async () => {
        while (wanted > state.editing.version) {
          const asked = wanted;
          await running?.catch(() => undefined);
          const { editing } = state;
          if (wanted <= editing.version) return;
          for (const newer of await server.since(editing.version, editing.savedAlbum)) meet(newer);
          // A conflict stays until somebody chooses.
          if (wanted === asked) wanted = 0;
        }
      })().finally(() => (catching = null));
      return catching;
    },
    onMerged(listener) {
      merging.add(listener);
      return () => merging.delete(listener);
    },
    noteMasters(newest) {
      if (newest === state.masters) return;
      const mastersById = byKey(newest);
      become({ ...state, masters: newest, mastersById, ...laidOut(state.album, mastersById, shown) });
    },
    resume({ album, sent: unanswered }) {
      sent = [...sent, ...unanswered];
      if (!sameValue(album, state.album)) {
        dispatch({ type: 'edited', album, words: 'edits of the last visit' });
        return state.editing.past.at(-1)?.id ?? null;
      }
      // A state that was sent before it may still arrive: it is saved over that.
      keep();
      saveSoon();
      return null;
    },
    attend() {
      left = false;
      return () => {
        left = true;
        clearTimeout(timer);
        if (state.editing.saving !== 'conflict') saveNow().catch(() => undefined);
      };
    },
    saveClosing() {
      const { editing } = state;
      if (!isUnsaved() || editing.saving === 'conflict' || running) return;
      clearTimeout(timer);
      running = saveOnce(true).finally(() => (running = null));
      running.catch(() => undefined);
    },
  };
}

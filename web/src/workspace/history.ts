import { takeBack } from '@oiseau/album/edits';
import type { Album } from '@oiseau/album/model';
import type { NewerAlbum } from './merging.js';
import { t } from '../ui/messages.js';

/** A state of the album that can be gone back to, and the edit that led away from it, in words. */
export interface Step {
  /** Its id; it stays the same through undo and redo. */
  readonly id: number;
  readonly album: Album;
  readonly words: string;
  /** Edits that follow each other with one key are one step: a gap moved by ten presses of a key. */
  readonly mergeKey?: string | undefined;
}

/** An edit in words; from both albums where it may become one step with the edit before it. */
export type EditWords = string | ((before: Album, after: Album) => string);

/** The album in hand: what can be undone and redone, and how it stands with the server. */
export interface Editing {
  readonly album: Album;
  readonly past: readonly Step[];
  readonly future: readonly Step[];
  /** The name of the step that comes next. */
  readonly nextId: number;
  /** The version on the server that this state came from or was saved as. */
  readonly version: number;
  /** The state that the server has under `version`. */
  readonly savedAlbum: Album;
  readonly saving: 'idle' | 'saving' | 'failed' | 'conflict';
  /** Why saving failed. */
  readonly message: string | null;
  /** Where saving met a conflict: what the server has instead. */
  readonly theirs: NewerAlbum | null;
}

export type EditingAction =
  | {
      readonly type: 'edited';
      readonly album: Album;
      readonly words: EditWords;
      readonly mergeKey?: string | undefined;
    }
  | { readonly type: 'undone' }
  | { readonly type: 'redone' }
  | { readonly type: 'saving' }
  | { readonly type: 'saved'; readonly album: Album; readonly version: number }
  | { readonly type: 'save failed'; readonly message: string }
  | { readonly type: 'conflicted'; readonly theirs: NewerAlbum }
  /** The server has gone on from `savedAlbum`; `album` is that together with what stands here. */
  | { readonly type: 'merged'; readonly theirs: NewerAlbum; readonly album: Album }
  | { readonly type: 'taken over'; readonly album: Album; readonly version: number };

/** Steps kept; an album is small and its tracks are shared between steps. */
const MOST_STEPS = 500;

export function startEditing(album: Album, version: number): Editing {
  return {
    album,
    past: [],
    future: [],
    nextId: 1,
    version,
    savedAlbum: album,
    saving: 'idle',
    message: null,
    theirs: null,
  };
}

export const isDirty = ({ album, savedAlbum }: Editing): boolean => album !== savedAlbum;

export function editingReducer(state: Editing, action: EditingAction): Editing {
  switch (action.type) {
    case 'edited': {
      if (action.album === state.album) return state;
      const { words, mergeKey } = action;
      const last = state.past.at(-1);
      const goesOn = mergeKey !== undefined && last?.mergeKey === mergeKey && state.future.length === 0;
      const before = goesOn ? last.album : state.album;
      const step: Step = {
        id: goesOn ? last.id : state.nextId,
        album: before,
        words: typeof words === 'string' ? words : words(before, action.album),
        mergeKey,
      };
      const past = [...(goesOn ? state.past.slice(0, -1) : state.past), step].slice(-MOST_STEPS);
      return { ...state, album: action.album, past, future: [], nextId: state.nextId + 1 };
    }
    case 'undone': {
      const step = state.past.at(-1);
      if (!step) return state;
      return {
        ...state,
        album: step.album,
        past: state.past.slice(0, -1),
        future: [{ id: step.id, album: state.album, words: step.words }, ...state.future],
      };
    }
    case 'redone': {
      const [step, ...future] = state.future;
      if (!step) return state;
      return {
        ...state,
        album: step.album,
        past: [...state.past, { id: step.id, album: state.album, words: step.words }],
        future,
      };
    }
    case 'saving':
      return { ...state, saving: 'saving', message: null };
    case 'saved':
      return {
        ...state,
        saving: 'idle',
        version: action.version,
        savedAlbum: action.album,
        message: null,
        theirs: null,
      };
    case 'save failed':
      return { ...state, saving: 'failed', message: action.message };
    case 'conflicted':
      return { ...state, saving: 'conflict', theirs: action.theirs };
    case 'merged':
      return merged(state, action.theirs, action.album);
    case 'taken over': {
      // What the other window did becomes one step that can be undone like any other.
      const step = { id: state.nextId, album: state.album, words: t('edits by others') };
      return {
        ...startEditing(action.album, action.version),
        past: [...state.past, step],
        nextId: state.nextId + 1,
      };
    }
    default:
      return action satisfies never;
  }
}

/** Takes in what others have done since `savedAlbum`: every state that can be gone back to has it too, so that undo takes back one's own steps alone. */
function merged(state: Editing, { album: theirs, version }: NewerAlbum, album: Album): Editing {
  const { savedAlbum } = state;
  // Undo ends at a state that can't be merged.
  const withTheirs = (steps: readonly Step[]): Step[] => {
    const rebased: Step[] = [];
    for (const step of steps) {
      const before = takeBack(step.album, theirs, savedAlbum);
      if (before === null) break;
      rebased.push({ ...step, album: before });
    }
    return rebased;
  };
  return {
    ...state,
    ...{ album, version, savedAlbum: theirs, saving: 'idle', message: null, theirs: null },
    past: withTheirs(state.past.toReversed()).toReversed(),
    future: withTheirs(state.future),
  };
}

/**
 * The album without one of the steps that led to it; what was done since stays.
 * @returns 'gone' where that step is not among those that stand, null where a later one has changed the same place
 */
export function withoutStep({ album, past }: Editing, id: number): Album | 'gone' | null {
  const place = past.findIndex((step) => step.id === id);
  const before = past[place]?.album;
  if (!before) return 'gone';
  return takeBack(album, before, past[place + 1]?.album ?? album);
}

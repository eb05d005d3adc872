import { cutAtMarks, startCutting, type Cutting } from '@oiseau/formats/cutting';
import { ticksToSamples } from '@oiseau/audio/time';
import type { Album } from '@oiseau/album/model';
import { useCallback, useEffect, useReducer } from 'react';
import type { MasterRecord } from '@oiseau/api';
import { startUndoable, undoableReducer, type Undoable, type UndoableAction } from '../ui/undoable.js';

const draftKey = (albumId: string, sha256: string): string => `oiseau-cut ${albumId} ${sha256}`;

export interface CuttingInHand {
  readonly cutting: Cutting;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  readonly change: (to: Cutting, merge?: boolean) => void;
  readonly undo: () => void;
  readonly redo: () => void;
  /** Forgets the draft, once it has become tracks. */
  readonly forget: () => void;
}

/** The cutting in hand, with undo; kept in this browser until it has become tracks, so that leaving the view loses nothing. */
export function useCutting(albumId: string, album: Album, master: MasterRecord): CuttingInHand {
  const key = draftKey(albumId, master.sha256);
  const [state, dispatch] = useReducer<Undoable<Cutting>, null, [UndoableAction<Cutting>]>(
    undoableReducer,
    null,
    () => startUndoable(readDraft(key, master.info.length) ?? fromTracks(album, master)),
  );
  useEffect(() => {
    if (state.past.length > 0) localStorage.setItem(key, JSON.stringify(state.now));
  }, [key, state]);
  return {
    cutting: state.now,
    canUndo: state.past.length > 0,
    canRedo: state.future.length > 0,
    change: useCallback((to, merge = false) => dispatch({ type: 'changed', to, merge }), []),
    undo: useCallback(() => dispatch({ type: 'undone' }), []),
    redo: useCallback(() => dispatch({ type: 'redone' }), []),
    forget: useCallback(() => localStorage.removeItem(key), [key]),
  };
}

/** A draft of an earlier visit; anything that is none counts as none. */
function readDraft(key: string, length: number): Cutting | null {
  try {
    const stored = JSON.parse(localStorage.getItem(key) ?? 'null') as Cutting | null;
    return stored?.length === length && stored.pieces[0]?.start === 0 ? stored : null;
  } catch {
    return null;
  }
}

/** Where tracks play parts of the recording already, their starts are the cuts to begin with. */
function fromTracks({ songs }: Album, { sha256, info }: MasterRecord): Cutting {
  const parts = songs.filter(({ region }) => region.master === sha256);
  if (parts.length < 2) return startCutting(info.length);
  return cutAtMarks(
    info.length,
    parts.map(({ region, title }) => ({ at: ticksToSamples(region.in, info.rate), name: title })),
  );
}

import type { Album } from '@oiseau/core';
import { useCallback, useEffect, useReducer, useRef } from 'react';
import { ApiFailure, CONTRACT } from '@oiseau/api';
import { call } from '../api/client.js';
import { useServerAlbum } from '../api/queries.js';
import type { AlbumRecord } from '@oiseau/api';
import { editingReducer, isDirty, startEditing, type Editing, type EditWords } from './history.js';

/** How long typing must rest before an edit goes to the server, and how long to wait after a failure. */
const SAVE_AFTER_MS = 350;
const RETRY_MS = 3000;

export interface AlbumEditing {
  readonly editing: Editing;
  edit(words: EditWords, change: (album: Album) => Album, mergeKey?: string): void;
  undo(steps?: number): void;
  redo(steps?: number): void;
  saveNow(): Promise<void>;
  /** Gives up the own edits for the server's state. */
  takeOver(): Promise<void>;
}

/** Edits of an album, saved by themselves; never over what another window has saved. */
export function useAlbumEditing(record: AlbumRecord): AlbumEditing {
  const { id } = record;
  const [editing, dispatch] = useReducer(editingReducer, record, ({ album, version }) =>
    startEditing(album, version),
  );
  // Saving reads the newest state when it runs, which may be later than the render that asked for it.
  const newest = useRef(editing);
  useEffect(() => {
    newest.current = editing;
  }, [editing]);
  const running = useRef<Promise<void> | null>(null);

  const saveOnce = useCallback(
    async (keepalive: boolean): Promise<void> => {
      const { album, version } = newest.current;
      dispatch({ type: 'saving' });
      try {
        const answer = await call(
          CONTRACT.saveAlbum,
          { params: { id }, body: { version, album } },
          { keepalive },
        );
        dispatch({ type: 'saved', album, version: answer.version });
        newest.current = editingReducer(newest.current, { type: 'saved', album, version: answer.version });
      } catch (error) {
        if (error instanceof ApiFailure && error.status === 409) dispatch({ type: 'conflicted' });
        else
          dispatch({ type: 'save failed', message: error instanceof Error ? error.message : String(error) });
        throw error;
      }
    },
    [id],
  );

  const saveNow = useCallback(async (): Promise<void> => {
    while (running.current || isDirty(newest.current)) {
      running.current ??= saveOnce(false).finally(() => (running.current = null));
      await running.current;
    }
  }, [saveOnce]);

  useEffect(() => {
    if (!isDirty(editing) || editing.saving === 'conflict') return undefined;
    const timer = setTimeout(
      () => saveNow().catch(() => undefined),
      editing.saving === 'failed' ? RETRY_MS : SAVE_AFTER_MS,
    );
    return () => clearTimeout(timer);
  }, [editing, saveNow]);

  // A window that is closed or a view that is left right after an edit still saves it.
  useEffect(() => {
    const flush = (): void => {
      if (isDirty(newest.current) && newest.current.saving !== 'conflict' && !running.current)
        saveOnce(true).catch(() => undefined);
    };
    window.addEventListener('pagehide', flush);
    return () => {
      window.removeEventListener('pagehide', flush);
      flush();
    };
  }, [saveOnce]);

  const server = useServerAlbum(id);
  useEffect(() => {
    const theirs = server.data;
    if (!theirs || theirs.version <= newest.current.version || running.current) return;
    if (isDirty(newest.current)) dispatch({ type: 'conflicted' });
    else dispatch({ type: 'taken over', album: theirs.album, version: theirs.version });
  }, [server.data]);

  const takeOver = useCallback(async (): Promise<void> => {
    const theirs = await call(CONTRACT.album, { params: { id } });
    dispatch({ type: 'taken over', album: theirs.album, version: theirs.version });
  }, [id]);

  const edit = useCallback<AlbumEditing['edit']>((words, change, mergeKey) => {
    const album = change(newest.current.album);
    newest.current = editingReducer(newest.current, { type: 'edited', album, words, mergeKey });
    dispatch({ type: 'edited', album, words, mergeKey });
  }, []);
  const undo = useCallback((steps = 1) => {
    for (let i = 0; i < steps; i++) dispatch({ type: 'undone' });
  }, []);
  const redo = useCallback((steps = 1) => {
    for (let i = 0; i < steps; i++) dispatch({ type: 'redone' });
  }, []);

  return { editing, edit, undo, redo, saveNow, takeOver };
}

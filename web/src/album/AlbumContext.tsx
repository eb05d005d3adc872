import { layOutAlbum, type Album, type MasterFactsByKey, type Part } from '@oiseau/core';
import { createContext, useContext, useMemo } from 'react';
import type { MasterRecord } from '@oiseau/api';
import type { Editing, EditWords } from './history.js';

/** Everything the views of one album share. */
export interface AlbumContextValue {
  readonly id: string;
  readonly editing: Editing;
  readonly album: Album;
  readonly masters: readonly MasterRecord[];
  readonly mastersById: ReadonlyMap<string, MasterRecord>;
  /** Rate and length of every master that the album plays. */
  readonly facts: MasterFactsByKey;
  /** The album laid out. */
  readonly parts: readonly Part[];
  /** The part that is shown and heard: the first. */
  readonly part: Part;
  /**
   * Makes `change` of the album, as one step that can be undone; `words` name it. Edits that follow each other with one
   * `mergeKey` are one step together.
   */
  edit(words: EditWords, change: (album: Album) => Album, mergeKey?: string): void;
  undo(steps?: number): void;
  redo(steps?: number): void;
  /** Resolves when everything is on the server. */
  saveNow(): Promise<void>;
}

export const AlbumContext = createContext<AlbumContextValue | null>(null);

export function useAlbum(): AlbumContextValue {
  const value = useContext(AlbumContext);
  if (!value) throw new Error('useAlbum outside an album');
  return value;
}

/** An album laid out; tracks whose master the server has not told of yet count as silent for the moment. */
export function usePlacedAlbum(
  album: Album,
  masters: readonly MasterRecord[],
): Pick<AlbumContextValue, 'mastersById' | 'facts' | 'parts' | 'part'> {
  const mastersById = useMemo(() => new Map(masters.map((master) => [master.sha256, master])), [masters]);
  return useMemo(() => {
    const facts = new Map(
      album.songs.map(({ region: { master } }) => [
        master,
        mastersById.get(master)?.info ?? { rate: 44_100, length: 0 },
      ]),
    );
    const parts = layOutAlbum(album, facts);
    return { mastersById, facts, parts, part: parts[0] };
  }, [album, mastersById]);
}

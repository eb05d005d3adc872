import { layOutAlbum, type Album, type Layout, type Sequence } from '@oiseau/core';
import { createContext, useContext, useMemo } from 'react';
import type { MasterRecord } from '../api/types.js';
import type { Editing } from './history.js';

/** Everything the views of one album share. */
export interface AlbumContextValue {
  readonly id: string;
  readonly editing: Editing;
  readonly album: Album;
  readonly masters: readonly MasterRecord[];
  readonly mastersById: ReadonlyMap<string, MasterRecord>;
  readonly sequence: Sequence;
  readonly layout: Layout;
  /** Makes `change` of the album, as one step that can be undone; `words` name it. */
  edit(words: string, change: (album: Album) => Album): void;
  undo(): void;
  redo(): void;
  /** Resolves when everything is on the server. */
  saveNow(): Promise<void>;
}

export const AlbumContext = createContext<AlbumContextValue | null>(null);

export function useAlbum(): AlbumContextValue {
  const value = useContext(AlbumContext);
  if (!value) throw new Error('useAlbum outside an album');
  return value;
}

/** The layout of an album; tracks whose master the server has not told of yet count as silent for the moment. */
export function usePlacedAlbum(
  album: Album,
  masters: readonly MasterRecord[],
): Pick<AlbumContextValue, 'mastersById' | 'sequence' | 'layout'> {
  const mastersById = useMemo(() => new Map(masters.map((master) => [master.sha256, master])), [masters]);
  return useMemo(() => {
    const facts = new Map(
      album.tracks.map(({ master }) => [
        master,
        mastersById.get(master)?.info ?? { rate: 44_100, length: 0 },
      ]),
    );
    return { mastersById, ...layOutAlbum(album, facts) };
  }, [album, mastersById]);
}

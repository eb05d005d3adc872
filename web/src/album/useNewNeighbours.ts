import { addOverride } from '@oiseau/album/edits';
import { newNeighbours } from '@oiseau/album/model';
import { useMemo } from 'react';
import { useMay } from '../access/VisitorContext.js';
import { t } from '../ui/messages.js';
import { useAlbum } from './AlbumContext.js';

/** Tracks of the edition that is shown with a new neighbour whose transition is not yet heard, and the edit that keeps its gap. */
export interface NewNeighbours {
  readonly ids: ReadonlySet<string>;
  /** Keeps the present gap of a track as the edition’s own, once it was heard; does nothing for tracks that aren’t in `ids`. */
  readonly keepGap: (id: string) => void;
}

export function useNewNeighbours(): NewNeighbours {
  const { editing, edition, editWhole } = useAlbum('editing', 'edition', 'editWhole');
  const mayWork = useMay('work');
  const whole = editing.album;
  const ids = useMemo(() => {
    const own = whole.editions.find(({ name }) => name === edition);
    return own ? newNeighbours(whole, own) : [];
  }, [whole, edition]);
  // The same set as long as it holds the same tracks: rows are drawn anew for another one.
  const text = ids.join(' ');
  const set = useMemo(() => new Set(text === '' ? [] : text.split(' ')), [text]);
  return {
    ids: set,
    keepGap: (id) => {
      if (!mayWork || !set.has(id)) return;
      editWhole(t('transition heard on “{edition}”', { edition }), (album) =>
        addOverride(album, edition, { song: id, field: 'gapBefore' }),
      );
    },
  };
}

import { layOutAlbum, type Part } from '@oiseau/album/layout';
import { heardFigures, type HeardFigures } from '@oiseau/album/measured';
import { albumOfEdition, newNeighbours, type Album, type Edition } from '@oiseau/album/model';
import { useMemo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useSounds } from '../album/SoundsContext.js';

/** An edition as it would be rendered. */
export interface LaidOutEdition {
  readonly edition: Edition;
  readonly album: Album;
  readonly parts: readonly Part[];
  /** Figures of its tracks by id, as far as they are known. */
  readonly figures: ReadonlyMap<string, HeardFigures>;
  /** Ids of tracks with a new neighbour whose transition is not yet heard. */
  readonly unheard: ReadonlySet<string>;
}

/** All editions of the album, laid out. */
export function useLaidOutEditions(): readonly LaidOutEdition[] {
  const { editing, facts, mastersById } = useAlbum('editing', 'facts', 'mastersById');
  const { figures } = useSounds();
  const whole = editing.album;
  return useMemo(
    () =>
      whole.editions.map((edition) => {
        const album = albumOfEdition(whole, edition);
        const parts = layOutAlbum(album, facts);
        const of = (part: Part) =>
          heardFigures(part, (master) => mastersById.get(master)?.measurement ?? null, figures);
        return {
          ...{ edition, album, parts },
          figures: new Map(parts.flatMap((part) => [...of(part)])),
          unheard: new Set(newNeighbours(whole, edition)),
        };
      }),
    [whole, facts, mastersById, figures],
  );
}

import { checkAlbum, type Finding } from '@oiseau/core';
import { useMemo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';

/** Everything that is wrong or doubtful about the album as it stands now. */
export function useFindings(): readonly Finding[] {
  const { album, sequence, layout, mastersById } = useAlbum();
  return useMemo(() => {
    const masters = new Map([...mastersById].map(([sha256, { info }]) => [sha256, info]));
    return checkAlbum({ album, sequence, layout, masters });
  }, [album, sequence, layout, mastersById]);
}

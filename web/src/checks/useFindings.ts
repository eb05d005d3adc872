import { checkAlbum, type Finding } from '@oiseau/core';
import { useMemo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';

/** Everything that is wrong or doubtful about the album as it stands now. */
export function useFindings(): readonly Finding[] {
  const { album, sequence, layout, facts } = useAlbum();
  return useMemo(
    () => checkAlbum({ album, sequence, layout, masters: facts }),
    [album, sequence, layout, facts],
  );
}

import { useParams } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import type { MasterRecord } from '@oiseau/api';

/** The master that the address names, if the album has it. */
export function useChosenMaster(): MasterRecord | undefined {
  const { sha256 = '' } = useParams();
  return useAlbum('mastersById').mastersById.get(sha256);
}

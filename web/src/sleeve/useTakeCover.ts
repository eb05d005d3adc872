import { CONTRACT } from '@oiseau/api';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';

/** Makes a picture the cover. @throws ApiFailure for one that can't be */
export function useTakeCover(): (file: File) => Promise<void> {
  const { edit } = useAlbum('edit');
  return async (file) => {
    const { sha256 } = await call(CONTRACT.sendPicture, { query: { name: file.name } }, { file });
    edit('cover', (before) => ({ ...before, artwork: sha256 }));
  };
}

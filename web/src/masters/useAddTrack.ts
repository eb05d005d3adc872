import { appendSongs, titleFromFileName } from '@oiseau/album/edits';
import { newSong } from '@oiseau/album/model';
import { useAlbum } from '../album/AlbumContext.js';
import type { MasterRecord } from '@oiseau/api';
import { t } from '../ui/messages.js';

/** Puts a master at the end of the album as a track, titled from its file's name. */
export function useAddTrack(): (master: Pick<MasterRecord, 'sha256' | 'name'>) => void {
  const { edit } = useAlbum('edit');
  return ({ sha256, name }) =>
    edit(t('track from {name}', { name }), (before) =>
      appendSongs(before, [newSong(crypto.randomUUID(), sha256, titleFromFileName(name))]),
    );
}

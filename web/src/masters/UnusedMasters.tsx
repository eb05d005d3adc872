import { appendSongs, titleFromFileName } from '@oiseau/album/edits';
import { newSong } from '@oiseau/album/model';
import { Button } from 'react-bootstrap';
import type { MasterRecord } from '@oiseau/api';
import { useAlbum } from '../album/AlbumContext.js';
import { count } from '../ui/format.js';
import { useTakeOut } from './useTakeOut.js';

/** Masters that no track plays: all of them made tracks, or taken out, at once. */
export function UnusedMasters({ unused }: { readonly unused: readonly MasterRecord[] }) {
  const { edit } = useAlbum('edit');
  const takeOut = useTakeOut();
  if (unused.length < 2) return null;
  const add = (): void => {
    edit(`${count(unused.length, 'track')} from masters`, (before) =>
      appendSongs(
        before,
        unused.map(({ name, sha256 }) => newSong(crypto.randomUUID(), sha256, titleFromFileName(name))),
      ),
    );
  };
  return (
    <p className="unused-masters">
      {unused.length} masters are not used by any track.{' '}
      <Button size="sm" variant="outline-primary" onClick={add}>
        Add all as tracks
      </Button>{' '}
      <Button size="sm" variant="outline-primary" onClick={() => void takeOut(unused)}>
        Remove unused masters
      </Button>
    </p>
  );
}

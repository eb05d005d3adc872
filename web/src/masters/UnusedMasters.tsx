import { appendSongs, titleFromFileName } from '@oiseau/album/edits';
import { newSong } from '@oiseau/album/model';
import { Button } from 'react-bootstrap';
import type { MasterRecord } from '@oiseau/api';
import { useAlbum } from '../album/AlbumContext.js';
import { useTakeOut } from './useTakeOut.js';
import { t } from '../ui/messages.js';

/** Masters that no track plays: all of them made tracks, or taken out, at once. */
export function UnusedMasters({ unused }: { readonly unused: readonly MasterRecord[] }) {
  const { edit } = useAlbum('edit');
  const takeOut = useTakeOut();
  if (unused.length < 2) return null;
  const add = (): void => {
    edit(
      t('{count, plural, one {# track} other {# tracks}} from masters', { count: unused.length }),
      (before) =>
        appendSongs(
          before,
          unused.map(({ name, sha256 }) => newSong(crypto.randomUUID(), sha256, titleFromFileName(name))),
        ),
    );
  };
  return (
    <p className="unused-masters">
      {t('{count} masters are not used by any track.', { count: unused.length })}{' '}
      <Button size="sm" variant="outline-primary" onClick={add}>
        {t('Add all as tracks')}
      </Button>{' '}
      <Button size="sm" variant="outline-primary" onClick={() => void takeOut(unused)}>
        {t('Remove unused masters')}
      </Button>
    </p>
  );
}

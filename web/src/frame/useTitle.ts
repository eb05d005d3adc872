import { useEffect } from 'react';
import { useLocation } from 'react-router';
import { useAlbumFact, useOpenedAlbum } from '../album/AlbumContext.js';
import { useDeliveries } from '../api/queries.js';
import { STEPS } from './steps.js';
import { t } from '../ui/messages.js';

/** What the window is called: how far a render is, the album, the view. */
export function useTitle(): void {
  const { id } = useOpenedAlbum();
  const name = useAlbumFact(({ album }) => album.title);
  const view = useLocation().pathname.split('/')[3] ?? '';
  const running = (useDeliveries(id).data ?? []).filter(
    ({ state }) => state === 'running' || state === 'queued',
  );
  const share =
    running.reduce((sum, { progress }) => sum + (progress?.share ?? 0), 0) / Math.max(1, running.length);
  const step = STEPS.find(({ path }) => path === view)?.name ?? '';
  const title = [
    running.length > 0 ? `${Math.floor(100 * share)} %` : '',
    name || t('Untitled album'),
    step,
    'Oiseau',
  ]
    .filter(Boolean)
    .join(' · ');
  useEffect(() => {
    document.title = title;
    return () => {
      document.title = 'Oiseau';
    };
  }, [title]);
}

import type { DeliveryRecord } from '@oiseau/api';
import { useEffect, useEffectEvent, useRef } from 'react';
import { useNavigate } from 'react-router';
import { useAlbumFact, useOpenedAlbum } from '../album/AlbumContext.js';
import { isUnderWay, useDeliveries } from '../api/queries.js';
import { useNotices } from '../ui/Notices.js';
import { t } from '../ui/messages.js';

/** How the renders that were under way have ended: `2 deliverables proved, 1 failed`. */
export function endWords(ended: readonly DeliveryRecord[]): string {
  const proved = ended.filter(({ state, proof }) => state === 'done' && proof?.proved).length;
  const stopped = ended.filter(({ state }) => state === 'stopped').length;
  const bad = ended.length - proved - stopped;
  const words = [
    proved > 0
      ? t('{count, plural, one {# deliverable} other {# deliverables}} verified', { count: proved })
      : '',
    bad > 0 ? t('{count} failed', { count: bad }) : '',
    stopped > 0 ? t('{count} stopped', { count: stopped }) : '',
  ].filter(Boolean);
  return words.join(', ');
}

/** Tells when the last of a render has ended, in every view; as a system notification where those are allowed and the page is hidden. */
export function useRenderEnd(): void {
  const { id } = useOpenedAlbum();
  const name = useAlbumFact(({ album }) => album.title);
  const deliveries = useDeliveries(id).data;
  const { tell } = useNotices();
  const navigate = useNavigate();
  const running = useRef<ReadonlySet<string>>(new Set());
  const told = useEffectEvent((ended: readonly DeliveryRecord[]) => {
    const words = endWords(ended);
    // The user who stopped it knows.
    if (ended.every(({ state }) => state === 'stopped')) return;
    tell(t('Rendering done: {words}.', { words }), {
      label: t('Proof'),
      run: () => void navigate(`/albums/${id}/proof`),
    });
    if (document.hidden && 'Notification' in window && Notification.permission === 'granted')
      new Notification(name || t('Untitled album'), {
        body: t('Rendering done: {words}.', { words }),
        tag: id,
      });
  });
  useEffect(() => {
    if (!deliveries) return;
    const now = deliveries.filter(isUnderWay).map((each) => each.id);
    const watched = running.current;
    if (now.length > 0) running.current = new Set([...watched, ...now]);
    else if (watched.size > 0) {
      running.current = new Set();
      told(deliveries.filter((each) => watched.has(each.id)));
    }
  }, [deliveries]);
}

import { CONTRACT, type DeliveryRecord } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { Clock, LoaderCircle } from 'lucide-react';
import { Button, ProgressBar } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { deliveriesKey, isUnderWay } from '../api/queries.js';
import { formatNumber, formatWait } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { t } from '../ui/messages.js';

/** The running render and those queued behind it, above everything else of the view: pressing Render shows it start. */
export function QueuePanel({ deliveries }: { deliveries: readonly DeliveryRecord[] }) {
  const { id: albumId } = useAlbum('id');
  const queries = useQueryClient();
  const { complain } = useNotices();
  const underWay = deliveries.filter(isUnderWay);
  if (underWay.length === 0) return null;
  const running = underWay.filter(({ state }) => state === 'running');
  // The oldest was queued first.
  const queued = underWay.filter(({ state }) => state === 'queued').reverse();
  const stop = async (stopped: readonly DeliveryRecord[]): Promise<void> => {
    // From the end of the queue, so that none begins meanwhile.
    for (const { id } of [...stopped].reverse()) await call(CONTRACT.stopRender, { params: { id } });
    await queries.invalidateQueries({ queryKey: deliveriesKey(albumId) });
  };
  return (
    <section className="queue-panel" aria-label={t('Render queue')}>
      <ul>
        {running.map((delivery) => (
          <li key={delivery.id}>
            <LoaderCircle size={16} aria-hidden />
            <strong>{delivery.deliverable.name}</strong>
            <RenderProgress delivery={delivery} />
            <Button
              size="sm"
              variant="outline-primary"
              aria-label={t('Stop rendering {name}', { name: delivery.deliverable.name })}
              onClick={() => void stop([delivery]).catch(complain)}
            >
              {t('Stop')}
            </Button>
          </li>
        ))}
      </ul>
      {queued.length > 0 && (
        <p className="queue-waiting">
          <Clock size={16} aria-hidden />
          <span>
            {t('Queued: {names}', { names: queued.map(({ deliverable }) => deliverable.name).join(', ') })}
          </span>
          <Button size="sm" variant="link" onClick={() => void stop([...running, ...queued]).catch(complain)}>
            {t('Stop all')}
          </Button>
        </p>
      )}
    </section>
  );
}

/** How far a render is, how fast against real time, and how long it still takes. */
export function RenderProgress({ delivery: { progress, deliverable } }: { delivery: DeliveryRecord }) {
  const share = progress?.share ?? 0;
  return (
    <span className="running">
      <ProgressBar now={100 * share} aria-label={t('Progress of {name}', { name: deliverable.name })} />
      <span className="num">
        {Math.floor(100 * share)} % · {progress?.phase === 'prove' ? t('verifying') : t('rendering')}
        {progress && ' · '}
        {progress &&
          t('{speed}× real time', { speed: formatNumber(progress.speed, progress.speed < 10 ? 1 : 0) })}
        {progress?.secondsLeft != null && ` · ${formatWait(progress.secondsLeft)}`}
      </span>
    </span>
  );
}

import { useQueryClient } from '@tanstack/react-query';
import {
  ArrowUpToLine,
  CircleCheck,
  CircleX,
  Clock,
  Download,
  Eraser,
  LoaderCircle,
  OctagonX,
  type LucideIcon,
} from 'lucide-react';
import { Button, ProgressBar } from 'react-bootstrap';
import { Link } from 'react-router';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { deliveriesKey } from '../api/queries.js';
import { addressOf, CONTRACT, type DeliveryRecord } from '@oiseau/api';
import { comparisonWords } from '@oiseau/core';
import { DownloadLink } from '../api/DownloadLink.js';
import { IconButton } from '../ui/IconButton.js';
import { count, formatBytes, formatWait, formatWhen } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';

const SIGNS: Record<DeliveryRecord['state'], { icon: LucideIcon; word: string }> = {
  queued: { icon: Clock, word: 'waits' },
  running: { icon: LoaderCircle, word: 'rendering' },
  done: { icon: CircleCheck, word: 'proved' },
  failed: { icon: CircleX, word: 'failed' },
  stopped: { icon: OctagonX, word: 'stopped' },
};

/** Running and finished renders, the newest revision first. */
export function DeliveryList({ deliveries }: { deliveries: readonly DeliveryRecord[] }) {
  if (deliveries.length === 0)
    return (
      <p className="text-secondary mt-4">
        Nothing was rendered yet. A render goes on when this window is closed.
      </p>
    );
  const newest = deliveries[0]?.revision;
  return (
    <section className="deliveries" aria-label="Renders">
      <h3>Renders</h3>
      <ul>
        {deliveries.map((delivery) => (
          <DeliveryRow key={delivery.id} delivery={delivery} newest={delivery.revision === newest} />
        ))}
      </ul>
    </section>
  );
}

function DeliveryRow({ delivery, newest }: { delivery: DeliveryRecord; newest: boolean }) {
  const { id: albumId } = useAlbum('id');
  const { id, state, revision, deliverable, proof, compared, createdAt, askedBy, clearedAt, message } =
    delivery;
  const deletes = useMay('delete');
  const queries = useQueryClient();
  const { tell, complain } = useNotices();
  const notProved = state === 'done' && proof?.proved === false;
  const { icon: Icon, word } = notProved ? { icon: CircleX, word: 'not proved' } : SIGNS[state];
  const ask = (what: 'stopRender' | 'retryRender' | 'renderFirst'): void => {
    call(CONTRACT[what], { params: { id } }).then(
      () => queries.invalidateQueries({ queryKey: deliveriesKey(albumId) }),
      complain,
    );
  };
  /** The way back is another render: the same revision gives the same bytes. */
  const clear = (): void => {
    call(CONTRACT.clearDelivery, { params: { id } })
      .then(() => queries.invalidateQueries({ queryKey: deliveriesKey(albumId) }))
      .then(
        () =>
          tell(`The files of ${deliverable.name}, revision ${revision}, are deleted.`, {
            ...{ label: 'Render again', run: () => ask('retryRender') },
          }),
        complain,
      );
  };
  const bytes = proof?.files.reduce((sum, file) => sum + file.bytes, 0) ?? 0;
  return (
    <li className={`delivery ${state} ${notProved ? 'failed' : ''} ${newest ? 'newest' : ''}`}>
      <span className="delivery-name">
        <strong>r{revision}</strong> {deliverable.name}
      </span>
      <span className="delivery-state">
        <Icon size={16} aria-hidden /> {word}
      </span>
      <span className="delivery-news">
        {state === 'running' ? (
          <Running delivery={delivery} />
        ) : message ? (
          <span className="text-danger">{message}</span>
        ) : (
          <span className="text-secondary">
            {proof ? `${count(proof.files.length, 'file')}, ${formatBytes(bytes)}, ` : ''}
            {formatWhen(createdAt, new Date())}
            {askedBy !== '' && `, asked by ${askedBy}`}
            {compared && `. ${comparisonWords(compared, proof?.made ?? null)}`}
            {clearedAt !== null && ', files deleted'}
          </span>
        )}
      </span>
      <span className="delivery-actions">
        {proof && state === 'done' && <Link to={`/albums/${albumId}/proof?delivery=${id}`}>Proof</Link>}
        {proof && state === 'done' && clearedAt === null && (
          <>
            <DownloadLink href={addressOf(CONTRACT.deliveryZip, { params: { id }, query: {} })}>
              <Download size={14} aria-hidden /> ZIP
            </DownloadLink>
            {deletes && (
              <IconButton
                icon={Eraser}
                label={`Delete the files of ${deliverable.name}, revision ${revision}`}
                hint="Delete the files; the record and the proof stay"
                onClick={clear}
              />
            )}
          </>
        )}
        {state === 'queued' && (
          <IconButton
            icon={ArrowUpToLine}
            label={`Render ${deliverable.name} first`}
            hint="Before all others that wait"
            onClick={() => ask('renderFirst')}
          />
        )}
        {(state === 'queued' || state === 'running') && (
          <Button size="sm" variant="outline-primary" onClick={() => ask('stopRender')}>
            Stop
          </Button>
        )}
        {(state === 'failed' || state === 'stopped' || clearedAt !== null) && (
          <Button size="sm" variant="outline-primary" onClick={() => ask('retryRender')}>
            Render again
          </Button>
        )}
      </span>
    </li>
  );
}

function Running({ delivery: { progress, deliverable } }: { delivery: DeliveryRecord }) {
  const share = progress?.share ?? 0;
  return (
    <span className="running">
      <ProgressBar now={100 * share} aria-label={`Progress of ${deliverable.name}`} />
      <span className="num">
        {Math.floor(100 * share)} % · {progress?.phase === 'prove' ? 'reading back' : 'writing'}
        {progress && ` · ${progress.speed.toFixed(progress.speed < 10 ? 1 : 0)}× real time`}
        {progress?.secondsLeft != null && ` · ${formatWait(progress.secondsLeft)}`}
      </span>
    </span>
  );
}

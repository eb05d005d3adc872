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
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { deliveriesKey, isUnderWay } from '../api/queries.js';
import { addressOf, CONTRACT, type DeliveryRecord } from '@oiseau/api';
import { comparisonWords } from '@oiseau/render';
import { DownloadLink } from '../api/DownloadLink.js';
import { IconButton } from '../ui/IconButton.js';
import { formatBytes, formatWhen } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { RenderProgress } from './QueuePanel.js';
import { say, saySentence, t } from '../ui/messages.js';

const SIGNS: Record<DeliveryRecord['state'], { icon: LucideIcon; word: string }> = {
  queued: { icon: Clock, word: t('queued') },
  running: { icon: LoaderCircle, word: t('rendering') },
  done: { icon: CircleCheck, word: t('verified') },
  failed: { icon: CircleX, word: t('failed') },
  stopped: { icon: OctagonX, word: t('stopped') },
};

/** Running and finished renders by revision, the newest first and open, older ones folded. @param deliveries null: not known yet */
export function DeliveryList({ deliveries }: { deliveries: readonly DeliveryRecord[] | null }) {
  const { clear, clearing } = useClearing();
  const deletes = useMay('delete');
  if (!deliveries) return null;
  if (deliveries.length === 0)
    return (
      <p className="text-secondary mt-4">
        {t('Nothing rendered yet. Rendering continues when this window is closed.')}
      </p>
    );
  const revisions = byRevision(deliveries);
  const [newest, ...older] = revisions;
  const superseded = older.flatMap((each) => each.deliveries).filter(hasFiles);
  return (
    <section className="deliveries" aria-label={t('Renders')}>
      <div className="view-head">
        <h3>{t('Renders')}</h3>
        <span className="flex-grow-1" />
        {deletes && superseded.length > 0 && (
          <Button
            size="sm"
            variant="outline-primary"
            disabled={clearing}
            title={t('Records and proofs are kept; the files can be rendered again')}
            onClick={() => clear(superseded, t('older revisions'))}
          >
            <Eraser size={14} aria-hidden />{' '}
            {t('Delete the files of older revisions ({bytes})', { bytes: formatBytes(bytesOf(superseded)) })}
          </Button>
        )}
      </div>
      {revisions.map(({ revision, deliveries: own }) => (
        <details
          key={revision}
          className="revision-group"
          open={revision === newest?.revision || own.some(isUnderWay) || undefined}
        >
          <summary>
            <strong>{t('Revision {revision}', { revision })}</strong>{' '}
            <span className="text-secondary">
              {own[0] && formatWhen(own[0].createdAt, new Date())} · {standing(own)}
            </span>
          </summary>
          <ul>
            {own.map((delivery) => (
              <DeliveryRow key={delivery.id} delivery={delivery} newest={revision === newest?.revision} />
            ))}
          </ul>
        </details>
      ))}
    </section>
  );
}

interface RevisionGroup {
  readonly revision: number;
  readonly deliveries: readonly DeliveryRecord[];
}

/** Deliveries that stand newest first, by their revision. */
function byRevision(deliveries: readonly DeliveryRecord[]): RevisionGroup[] {
  const numbers = [...new Set(deliveries.map(({ revision }) => revision))];
  return numbers.map((revision) => ({
    revision,
    deliveries: deliveries.filter((delivery) => delivery.revision === revision),
  }));
}

const hasFiles = ({ proof, clearedAt, state }: DeliveryRecord): boolean =>
  proof !== null && clearedAt === null && state === 'done';
const bytesOf = (deliveries: readonly DeliveryRecord[]): number =>
  deliveries.reduce(
    (sum, { proof }) => sum + (proof?.files.reduce((bytes, file) => bytes + file.bytes, 0) ?? 0),
    0,
  );

/** `3 proved, 1 failed, 1.2 GB` */
function standing(deliveries: readonly DeliveryRecord[]): string {
  const words = deliveries.map(wordOf);
  const counted = [...new Set(words)].map((word) =>
    t('{count} {word}', { count: words.filter((each) => each === word).length, word }),
  );
  const bytes = bytesOf(deliveries.filter(hasFiles));
  const isCleared = deliveries.every(({ clearedAt }) => clearedAt !== null);
  return [...counted, ...(bytes > 0 ? [formatBytes(bytes)] : isCleared ? ['files deleted'] : [])].join(', ');
}

const wordOf = ({ state, proof }: DeliveryRecord): string =>
  state === 'done' && proof?.proved === false ? t('failed verification') : SIGNS[state].word;

/** Deletes the files of several deliveries. The way back is another render: the same revision gives the same bytes. */
function useClearing() {
  const { id: albumId } = useAlbum('id');
  const queries = useQueryClient();
  const { tell, complain } = useNotices();
  const [clearing, setClearing] = useState(false);
  const again = (): Promise<void> => queries.invalidateQueries({ queryKey: deliveriesKey(albumId) });
  const each = async (
    what: 'clearDelivery' | 'retryRender',
    deliveries: readonly DeliveryRecord[],
  ): Promise<void> => {
    try {
      for (const { id } of deliveries) await call(CONTRACT[what], { params: { id } });
    } finally {
      await again();
    }
  };
  const clear = (deliveries: readonly DeliveryRecord[], of: string): void => {
    setClearing(true);
    each('clearDelivery', deliveries)
      .then(
        () =>
          tell(t('The files of {of} were deleted.', { of }), {
            label: t('Render again'),
            run: () => void each('retryRender', deliveries).catch(complain),
          }),
        complain,
      )
      .finally(() => setClearing(false));
  };
  return { clear, clearing };
}

function DeliveryRow({ delivery, newest }: { delivery: DeliveryRecord; newest: boolean }) {
  const { id: albumId } = useAlbum('id');
  const { id, state, revision, deliverable, proof, compared, createdAt, askedBy, clearedAt } = delivery;
  const why = saySentence(delivery);
  const deletes = useMay('delete');
  const queries = useQueryClient();
  const { complain } = useNotices();
  const notProved = state === 'done' && proof?.proved === false;
  const { icon: Icon, word } = notProved ? { icon: CircleX, word: t('failed verification') } : SIGNS[state];
  const ask = (what: 'stopRender' | 'retryRender' | 'renderFirst'): void => {
    call(CONTRACT[what], { params: { id } }).then(
      () => queries.invalidateQueries({ queryKey: deliveriesKey(albumId) }),
      complain,
    );
  };
  const { clear } = useClearing();
  const bytes = bytesOf([delivery]);
  return (
    <li className={`delivery ${state} ${notProved ? 'failed' : ''} ${newest ? 'newest' : ''}`}>
      <span className="delivery-name">
        <strong>{t('r{revision}', { revision })}</strong> {deliverable.name}
      </span>
      <span className="delivery-state">
        <Icon size={16} aria-hidden /> {word}
      </span>
      <span className="delivery-news">
        {state === 'running' ? (
          <RenderProgress delivery={delivery} />
        ) : why ? (
          <span className="text-danger">{why}</span>
        ) : (
          <span className="text-secondary">
            {[
              proof && t('{count, plural, one {# file} other {# files}}', { count: proof.files.length }),
              proof && formatBytes(bytes),
              formatWhen(createdAt, new Date()),
              askedBy !== '' && t('requested by {askedBy}', { askedBy }),
              clearedAt !== null && t('files deleted'),
            ]
              .filter(Boolean)
              .join(', ')}
            {compared && `. ${say(comparisonWords(compared, proof?.made ?? null))}`}
          </span>
        )}
      </span>
      <span className="delivery-actions">
        {proof && state === 'done' && (
          <Link to={`/albums/${albumId}/proof?delivery=${id}`}>{t('Proof')}</Link>
        )}
        {proof && state === 'done' && clearedAt === null && (
          <>
            <DownloadLink href={addressOf(CONTRACT.deliveryZip, { params: { id }, query: {} })}>
              <Download size={14} aria-hidden /> {t('ZIP')}
            </DownloadLink>
            {deletes && (
              <IconButton
                icon={Eraser}
                label={t('Delete the files of {name}, revision {revision}', {
                  name: deliverable.name,
                  revision,
                })}
                hint={t('Delete the files; the record and the proof are kept')}
                onClick={() =>
                  clear([delivery], t('{name}, revision {revision},', { name: deliverable.name, revision }))
                }
              />
            )}
          </>
        )}
        {state === 'queued' && (
          <IconButton
            icon={ArrowUpToLine}
            label={t('Render {name} first', { name: deliverable.name })}
            hint={t('Move to the front of the queue')}
            onClick={() => ask('renderFirst')}
          />
        )}
        {(state === 'queued' || state === 'running') && (
          <Button size="sm" variant="outline-primary" onClick={() => ask('stopRender')}>
            {t('Stop')}
          </Button>
        )}
        {(state === 'failed' || state === 'stopped' || clearedAt !== null) && (
          <Button size="sm" variant="outline-primary" onClick={() => ask('retryRender')}>
            {t('Render again')}
          </Button>
        )}
      </span>
    </li>
  );
}

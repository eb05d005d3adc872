import { CONTRACT, type QueuedRender } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { ArrowUpToLine } from 'lucide-react';
import { Button, ProgressBar } from 'react-bootstrap';
import { Link } from 'react-router';
import { useMay } from '../access/VisitorContext.js';
import { call } from '../api/client.js';
import { queueKey, useRenderQueue } from '../api/queries.js';
import { formatWait } from '../ui/format.js';
import { IconButton } from '../ui/IconButton.js';
import { useNotices } from '../ui/Notices.js';
import { t } from '../ui/messages.js';

/** What is rendered and what waits, of all albums; nothing where nothing does. */
export function RenderQueue() {
  const queue = useRenderQueue().data ?? [];
  if (queue.length === 0) return null;
  return (
    <section className="render-queue" aria-label={t('Render queue')}>
      <h2>{t('{count, plural, one {# render} other {# renders}} in progress', { count: queue.length })}</h2>
      <ul>
        {queue.map((each) => (
          <QueueRow key={each.id} render={each} />
        ))}
      </ul>
    </section>
  );
}

function QueueRow({ render }: { render: QueuedRender }) {
  const { id, albumId, title, revision, deliverable, state, progress, askedBy } = render;
  const works = useMay('work');
  const queries = useQueryClient();
  const { complain } = useNotices();
  const ask = (what: 'stopRender' | 'renderFirst'): void => {
    call(CONTRACT[what], { params: { id } }).then(
      () => queries.invalidateQueries({ queryKey: queueKey }),
      complain,
    );
  };
  const share = progress?.share ?? 0;
  const name = t('{name} of {title}', { name: deliverable.name, title: title || t('Untitled album') });
  return (
    <li>
      <Link to={`/albums/${albumId}/render`}>{title || t('Untitled album')}</Link>
      <span>
        {t('r{revision} {name}', { revision, name: deliverable.name })}
        {askedBy !== '' && <span className="text-secondary"> {t('for {askedBy}', { askedBy })}</span>}
      </span>
      {state === 'running' ? (
        <span className="running">
          <ProgressBar now={100 * share} aria-label={t('Progress of {name}', { name })} />
          <span className="num">
            {Math.floor(100 * share)} %
            {progress?.secondsLeft != null && ` · ${formatWait(progress.secondsLeft)}`}
          </span>
        </span>
      ) : (
        <span className="text-secondary">{t('waits')}</span>
      )}
      {works && (
        <span className="delivery-actions">
          {state === 'queued' && (
            <IconButton
              icon={ArrowUpToLine}
              label={t('Render {name} first', { name })}
              hint={t('Move to the front of the queue')}
              onClick={() => ask('renderFirst')}
            />
          )}
          <Button
            size="sm"
            variant="outline-primary"
            aria-label={t('Stop {name}', { name })}
            onClick={() => ask('stopRender')}
          >
            {t('Stop')}
          </Button>
        </span>
      )}
    </li>
  );
}

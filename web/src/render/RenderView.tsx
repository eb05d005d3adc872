import { planDeliverable, sounding, type Deliverable } from '@oiseau/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Alert, Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { deliveriesKey, useDeliveries } from '../api/queries.js';
import type { DeliveryRecord } from '../api/types.js';
import { useFindings } from '../checks/FindingsContext.js';
import { count } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { DeliverableCard } from './DeliverableCard.js';
import { DeliveryList } from './DeliveryList.js';

/** The deliverables of this album, what they will write, and the running and finished renders. */
export function RenderView() {
  const { id, album, layout, mastersById, edit, saveNow } = useAlbum();
  const { open } = useFindings();
  const deliveries = useDeliveries(id);
  const queries = useQueryClient();
  const { complain } = useNotices();
  const [asking, setAsking] = useState(false);
  const errors = open.filter(({ severity }) => severity === 'error').length;
  const revision = (deliveries.data?.[0]?.revision ?? 0) + 1;
  const rates = sounding(album).map(({ master }) => ({ rate: mastersById.get(master)?.info.rate ?? 44_100 }));

  const render = async (): Promise<void> => {
    setAsking(true);
    try {
      await saveNow();
      queries.setQueryData(
        deliveriesKey(id),
        await call<DeliveryRecord[]>('POST', `/albums/${id}/deliveries`, {}),
      );
    } finally {
      setAsking(false);
    }
  };
  const change = (index: number, deliverable: Deliverable): void =>
    edit(`settings of “${deliverable.name}”`, (before) => ({
      ...before,
      deliverables: before.deliverables.map((old, i) => (i === index ? deliverable : old)),
    }));

  if (album.tracks.length === 0) {
    return (
      <div className="empty">
        <p className="empty-lead">Nothing to render yet.</p>
        <p>
          Bring masters in under <Link to={`/albums/${id}/masters`}>Masters</Link> first.
        </p>
      </div>
    );
  }
  return (
    <div className="render">
      <div className="view-head">
        <h2>Render</h2>
        <span className="text-secondary">What is written, from a numbered revision of the album</span>
        <span className="flex-grow-1" />
        <Button
          disabled={errors > 0 || asking || album.deliverables.length === 0}
          onClick={() => render().catch(complain)}
        >
          Render {count(album.deliverables.length, 'deliverable')}
        </Button>
      </div>
      {errors > 0 && (
        <Alert variant="danger">
          {count(errors, 'error')} must be mended before anything can be rendered.{' '}
          <Link to={`/albums/${id}/checks`}>See the Checks</Link>
        </Alert>
      )}
      <div className="deliverables">
        {album.deliverables.map((deliverable, i) => (
          <DeliverableCard
            key={deliverable.name}
            deliverable={deliverable}
            plan={planDeliverable(album, layout, rates, deliverable, revision)}
            onChange={(changed) => change(i, changed)}
          />
        ))}
      </div>
      <DeliveryList deliveries={deliveries.data ?? []} />
    </div>
  );
}

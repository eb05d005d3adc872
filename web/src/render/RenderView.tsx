import { errorsFor } from '@oiseau/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Alert, Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useVisitor } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { deliveriesKey, useDeliveries } from '../api/queries.js';
import { CONTRACT } from '@oiseau/api';
import { useFindings } from '../checks/FindingsContext.js';
import { count, formatBytes } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { useAddressed } from '../ui/addressed.js';
import { useStored } from '../ui/useStored.js';
import { DeliverableList } from './DeliverableList.js';
import { DeliverablePane } from './DeliverablePane.js';
import { EndNotice } from './EndNotice.js';
import { DeliveryList } from './DeliveryList.js';
import { fileCount, planSize } from './PlanFiles.js';
import { useDeliverableEdits } from './useDeliverableEdits.js';
import { useRenderPlans } from './useRenderPlans.js';

/** The deliverables of this album, what they will write, and the running and finished renders. */
export function RenderView() {
  const { id, album, saveNow } = useAlbum('id', 'album', 'saveNow');
  const { open: findings } = useFindings();
  const deliveries = useDeliveries(id);
  const queries = useQueryClient();
  const { complain } = useNotices();
  const [asking, setAsking] = useState(false);
  const [open, setOpen] = useAddressed('deliverable', null);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [by, setBy] = useStored('oiseau-asked-by', '');
  // Who comes with a key of their own asks in no other name.
  const { name: holder } = useVisitor();
  const revision = (deliveries.data?.[0]?.revision ?? 0) + 1;
  const { plans, shown, untouched } = useRenderPlans(revision, open);
  const chosen = plans.filter(({ deliverable }) => !left.has(deliverable.name));
  const errors = errorsFor(
    findings,
    chosen.map(({ deliverable }) => deliverable.name),
  );
  const bytes = chosen.reduce((sum, plan) => sum + planSize(plan).bytes, 0);
  const files = chosen.reduce((sum, plan) => sum + fileCount(plan), 0);

  const render = async (): Promise<void> => {
    setAsking(true);
    try {
      await saveNow();
      const deliverables = chosen.map(({ deliverable }) => deliverable.name);
      queries.setQueryData(
        deliveriesKey(id),
        await call(CONTRACT.orderRenders, { params: { id }, body: { deliverables, by } }),
      );
    } finally {
      setAsking(false);
    }
  };
  const { change, add, remove } = useDeliverableEdits(setOpen);
  const tick = (name: string, ticked: boolean): void =>
    setLeft(new Set(ticked ? [...left].filter((each) => each !== name) : [...left, name]));

  if (album.songs.length === 0) {
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
        <span className="text-secondary">
          {count(files, 'file')}, {formatBytes(bytes)} at the most
        </span>
        <span className="flex-grow-1" />
        {holder === '' ? (
          <label className="asked-by">
            Noted as asked by{' '}
            <input
              className="form-control form-control-sm"
              value={by}
              maxLength={200}
              placeholder="your name"
              onChange={({ target }) => setBy(target.value)}
            />
          </label>
        ) : (
          <span className="text-secondary">Asked by {holder}</span>
        )}
        <EndNotice />
        <Button
          disabled={errors.length > 0 || asking || chosen.length === 0}
          onClick={() => render().catch(complain)}
        >
          Render {count(chosen.length, 'deliverable')}
        </Button>
      </div>
      {errors.length > 0 && (
        <Alert variant="danger">
          {count(errors.length, 'error')} must be mended before{' '}
          {errors.every((finding) => 'deliverable' in finding)
            ? 'all that is ticked can be rendered.'
            : 'anything can be rendered.'}{' '}
          <Link to={`/albums/${id}/checks`}>See the Checks</Link>
        </Alert>
      )}
      <div className="render-columns">
        <DeliverableList
          plans={plans}
          open={shown?.deliverable.name ?? ''}
          onOpen={setOpen}
          ticked={new Set(chosen.map(({ deliverable }) => deliverable.name))}
          onTick={tick}
          onAdd={add}
        />
        {shown && (
          <DeliverablePane
            key={shown.deliverable.name}
            plan={shown}
            untouched={untouched}
            others={album.deliverables
              .map(({ name }) => name)
              .filter((name) => name !== shown.deliverable.name)}
            onChange={(deliverable) => change(shown.deliverable.name, deliverable)}
            onRemove={() => remove(shown.deliverable.name)}
          />
        )}
      </div>
      <DeliveryList deliveries={deliveries.data ?? null} />
    </div>
  );
}

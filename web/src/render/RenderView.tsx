import { checkAlbum, errorsFor, type Finding } from '@oiseau/checks';
import { selectDeliverable } from '@oiseau/album/edits';
import { useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useMemo, useState } from 'react';
import { Alert, Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useVisitor } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { deliveriesKey, useDeliveries } from '../api/queries.js';
import { CONTRACT } from '@oiseau/api';
import { useFindings } from '../checks/FindingsContext.js';
import { formatBytes } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { useAddressed } from '../ui/addressed.js';
import { useStored } from '../ui/useStored.js';
import { DeliverableList } from './DeliverableList.js';
import { DeliverablePane } from './DeliverablePane.js';
import { EndNotice } from './EndNotice.js';
import { DeliveryList } from './DeliveryList.js';
import { fileCount, planSize } from './PlanFiles.js';
import { QueuePanel } from './QueuePanel.js';
import { useDeliverableEdits } from './useDeliverableEdits.js';
import { useRenderPlans, type PlanGroup } from './useRenderPlans.js';
import { rich, t } from '../ui/messages.js';

/** Errors that keep each deliverable from being rendered, by its name. */
function useErrors(groups: readonly PlanGroup[]): (name: string) => readonly Finding[] {
  const { edition } = useAlbum('edition');
  const { open, subject } = useFindings();
  const others = useDeferredValue(groups);
  const findings = useMemo(
    () =>
      new Map(
        others
          .filter((group) => group.edition !== edition && !group.draft && group.plans.length > 0)
          .map(({ edition: name, album, parts }) => [name, checkAlbum({ ...subject, album, parts })]),
      ),
    [others, edition, subject],
  );
  return (name) => {
    const group = groups.find(({ plans }) => plans.some(({ deliverable }) => deliverable.name === name));
    const known = !group || group.edition === edition ? open : (findings.get(group.edition) ?? []);
    return errorsFor(known, [name]);
  };
}

/** Which deliverables are rendered, which are held up, and the way to begin. @param open the one that is shown */
function useRenderOrder(open: string | null) {
  const { id, album, saveNow } = useAlbum('id', 'album', 'saveNow');
  const deliveries = useDeliveries(id);
  const queries = useQueryClient();
  const { complain } = useNotices();
  const [asking, setAsking] = useState(false);
  const [by, setBy] = useStored('oiseau-asked-by', '');
  const plans = useRenderPlans((deliveries.data?.[0]?.revision ?? 0) + 1, open);
  const selected = plans.groups
    .filter(({ draft }) => !draft)
    .flatMap((group) => group.plans)
    .filter(({ deliverable }) => !album.unselected.includes(deliverable.name));
  const errorsFound = useErrors(plans.groups);
  const errorsOf = (name: string): number => errorsFound(name).length;
  // An error of one deliverable holds up that one alone.
  const chosen = selected.filter(({ deliverable }) => errorsOf(deliverable.name) === 0);
  const blocked = selected
    .filter((plan) => !chosen.includes(plan))
    .map(({ deliverable }) => deliverable.name);
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
  return {
    ...plans,
    ...{ deliveries: deliveries.data, errorsOf, selected, chosen, blocked, by, setBy },
    errors: new Set(blocked.flatMap(errorsFound)).size,
    canRender: !asking && chosen.length > 0,
    render: (): void => void render().catch(complain),
  };
}
type RenderOrder = ReturnType<typeof useRenderOrder>;

/** The deliverables of this album, what they will write, and the running and finished renders. */
export function RenderView() {
  const { id, album, edit, edition, showEdition } = useAlbum(
    ...(['id', 'album', 'edit', 'edition', 'showEdition'] as const),
  );
  const [open, setOpen] = useAddressed('deliverable', null);
  const order = useRenderOrder(open);
  const { groups, shown, untouched, deliveries, selected, chosen, blocked, errors, errorsOf } = order;
  const { change, add, remove } = useDeliverableEdits(setOpen);
  const tick = (name: string, isSelected: boolean): void => {
    edit(
      isSelected
        ? t('“{name}” selected for rendering', { name })
        : t('“{name}” not selected for rendering', { name }),
      (before) => selectDeliverable(before, name, isSelected),
    );
  };
  if (album.songs.length === 0) return <NothingToRender albumId={id} />;
  return (
    <div className="render">
      <RenderHead order={order} />
      <QueuePanel deliveries={deliveries ?? []} />
      {blocked.length > 0 && (
        <Alert variant={chosen.length > 0 ? 'warning' : 'danger'}>
          {blockedSentence(blocked, errors, chosen.length > 0)}{' '}
          <Link to={`/albums/${id}/checks`}>{t('Show in Checks')}</Link>
        </Alert>
      )}
      <div className="render-columns">
        <DeliverableList
          groups={groups}
          open={shown?.deliverable.name ?? ''}
          onOpen={(name, of) => {
            if (of !== edition) showEdition(of);
            setOpen(name);
          }}
          ticked={new Set(selected.map(({ deliverable }) => deliverable.name))}
          errorsOf={errorsOf}
          onTick={tick}
          onAdd={add}
        />
        {shown && (
          <DeliverablePane
            key={shown.deliverable.name}
            plan={shown}
            untouched={untouched}
            others={groups
              .flatMap(({ plans }) => plans.map(({ deliverable }) => deliverable.name))
              .filter((name) => name !== shown.deliverable.name)}
            onChange={(deliverable) => change(shown.deliverable.name, deliverable)}
            onRemove={() => remove(shown.deliverable.name)}
          />
        )}
      </div>
      <DeliveryList deliveries={deliveries ?? null} />
    </div>
  );
}

function NothingToRender({ albumId }: { albumId: string }) {
  return (
    <div className="empty">
      <p className="empty-lead">{t('Nothing to render yet.')}</p>
      <p>
        {rich('Add masters in <link>Masters</link> first.', {
          link: <Link to={`/albums/${albumId}/masters`} />,
        })}
      </p>
    </div>
  );
}

/** What will be written, who asks for it, and the way to begin. */
function RenderHead({ order }: { order: RenderOrder }) {
  const { chosen, selected, by, setBy, canRender, render } = order;
  // Who comes with a key of their own asks in no other name.
  const { name: holder } = useVisitor();
  const bytes = chosen.reduce((sum, plan) => sum + planSize(plan).bytes, 0);
  const files = chosen.reduce((sum, plan) => sum + fileCount(plan), 0);
  return (
    <div className="view-head">
      <h2>{t('Render')}</h2>
      <span className="text-secondary">
        {t('{files, plural, one {# file} other {# files}}, at most {bytes}', {
          files,
          bytes: formatBytes(bytes),
        })}
      </span>
      <span className="flex-grow-1" />
      {holder === '' ? (
        <label className="asked-by">
          {t('Requested by')}{' '}
          <input
            className="form-control form-control-sm"
            value={by}
            maxLength={200}
            placeholder={t('your name')}
            onChange={({ target }) => setBy(target.value)}
          />
        </label>
      ) : (
        <span className="text-secondary">{t('Requested by {name}', { name: holder })}</span>
      )}
      <EndNotice />
      <Button disabled={!canRender} onClick={render}>
        {t('Render {count, plural, one {# deliverable} other {# deliverables}}', {
          count: chosen.length > 0 ? chosen.length : selected.length,
        })}
      </Button>
    </div>
  );
}

/** Why selected deliverables are not rendered, and whether the others are. */
function blockedSentence(names: readonly string[], errors: number, othersRender: boolean): string {
  const quoted = names.map((name) => `“${name}”`).join(', ');
  const must = t(
    '{errors, plural, one {# error} other {# errors}} must be fixed before {names} can be rendered.',
    { errors, names: quoted },
  );
  return othersRender ? `${must} ${t('The others can be rendered now.')}` : must;
}

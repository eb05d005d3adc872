import { SHIPPED_PRESETS, type Deliverable } from '@oiseau/album/model';
import { audioFiles, formWords, kindWords, type Plan } from '@oiseau/render';
import { CONTRACT, type Preset } from '@oiseau/api';
import { CircleX, Plus, TriangleAlert } from 'lucide-react';
import { Dropdown, Form } from 'react-bootstrap';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { useForget } from '../api/useForget.js';
import { fileCount, planSize } from './PlanFiles.js';
import { keptPreset, presetsKey, usePresets } from './presets.js';
import type { PlanGroup } from './useRenderPlans.js';
import { say, t } from '../ui/messages.js';

interface ListProps {
  readonly groups: readonly PlanGroup[];
  /** Name of the one that lies open. */
  readonly open: string;
  /** @param edition the one that it belongs to */
  readonly onOpen: (name: string, edition: string) => void;
  /** Names of those that will be rendered. */
  readonly ticked: ReadonlySet<string>;
  readonly onTick: (name: string, ticked: boolean) => void;
  /** Errors that must be fixed before one can be rendered. */
  readonly errorsOf: (name: string) => number;
  readonly onAdd: (deliverable: Deliverable) => void;
}

/** All forms in which this album will leave, by edition where it has several, each with what it will weigh. */
export function DeliverableList({ groups, onAdd, ...list }: ListProps) {
  const { edition } = useAlbum('edition');
  return (
    <section className="deliverable-list" aria-label={t('Deliverables')}>
      {groups
        .filter((group) => group.plans.length > 0 || group.edition === edition)
        .map((group) => (
          <section key={group.edition} aria-label={group.edition || t('Deliverables')}>
            {groups.length > 1 && (
              <h3 className={group.edition === edition ? 'edition-heading shown' : 'edition-heading'}>
                {group.edition} {group.draft && <small>{t('draft: not rendered')}</small>}
              </h3>
            )}
            <ul>
              {group.plans.map((plan) => (
                <DeliverableItem key={plan.deliverable.name} {...{ plan, group, ...list }} />
              ))}
            </ul>
            {group.edition === edition && <AddMenu onAdd={onAdd} />}
          </section>
        ))}
    </section>
  );
}

function DeliverableItem({
  plan,
  group: { edition, draft },
  open,
  onOpen,
  ticked,
  onTick,
  errorsOf,
}: Omit<ListProps, 'groups' | 'onAdd'> & { readonly plan: Plan; readonly group: PlanGroup }) {
  const { deliverable } = plan;
  const { name } = deliverable;
  const doubtful = audioFiles(plan).some(({ length, silent }) => length === 0 || silent);
  const errors = errorsOf(name);
  return (
    <li className={name === open ? 'open' : ''}>
      <Form.Check
        aria-label={t('Render {name}', { name })}
        disabled={draft}
        checked={ticked.has(name)}
        onChange={({ target }) => onTick(name, target.checked)}
      />
      <button type="button" aria-current={name === open || undefined} onClick={() => onOpen(name, edition)}>
        <strong>{name}</strong>
        <span>{say(kindWords(deliverable))}</span>
        <span className="text-secondary">
          {say(formWords(deliverable))} ·{' '}
          {t('{fileCount, plural, one {# file} other {# files}}', { fileCount: fileCount(plan) })},{' '}
          {planSize(plan).words}
          {errors > 0 && (
            <span className="plan-fault plan-error">
              <CircleX size={14} aria-hidden />{' '}
              {t('{errors, plural, one {# error} other {# errors}}', { errors })}
            </span>
          )}
          {doubtful && (
            <span className="plan-fault">
              <TriangleAlert size={14} aria-hidden /> {t('a file is empty or silent')}
            </span>
          )}
        </span>
      </button>
    </li>
  );
}

/** Adds a deliverable from built-in and saved presets. */
function AddMenu({ onAdd }: { onAdd: (deliverable: Deliverable) => void }) {
  const own = usePresets().data ?? [];
  const forgets = useMay('delete');
  const item = ({ name, deliverable }: Preset) => (
    <Dropdown.Item key={name} onClick={() => onAdd({ ...deliverable, name })}>
      <strong>{name}</strong> <span className="text-secondary">{say(kindWords(deliverable))}</span>
    </Dropdown.Item>
  );
  const forget = useForget<Preset>({
    queryKey: presetsKey,
    find: keptPreset,
    forget: (name) => call(CONTRACT.forgetPreset, { params: { name } }),
    save: ({ name, deliverable: body }) => call(CONTRACT.savePreset, { params: { name }, body }),
    words: (name) => t('Preset “{name}” deleted.', { name }),
  });
  return (
    <Dropdown>
      <Dropdown.Toggle variant="outline-primary" size="sm">
        <Plus size={16} aria-hidden /> {t('Add a deliverable')}
      </Dropdown.Toggle>
      <Dropdown.Menu className="preset-menu">
        {SHIPPED_PRESETS.map((deliverable) => item({ name: deliverable.name, deliverable }))}
        {own.length > 0 && <Dropdown.Divider />}
        {own.length > 0 && <Dropdown.Header>{t('Your presets')}</Dropdown.Header>}
        {own.map(item)}
        {forgets && own.length > 0 && <Dropdown.Divider />}
        {(forgets ? own : []).map((preset) => (
          <Dropdown.Item key={preset.name} className="text-secondary" onClick={() => forget(preset.name)}>
            {t('Delete the preset “{name}”', { name: preset.name })}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}

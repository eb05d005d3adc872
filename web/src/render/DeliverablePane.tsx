import { CONTRACT } from '@oiseau/api';
import { deliverableSchema, type Deliverable } from '@oiseau/album/model';
import { wordFinding, type Finding } from '@oiseau/checks';
import type { Plan } from '@oiseau/render';
import { useQueryClient } from '@tanstack/react-query';
import { BookmarkPlus, Trash2, TriangleAlert } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { call } from '../api/client.js';
import { useFindings } from '../checks/FindingsContext.js';
import { DraftField } from '../ui/DraftField.js';
import { useNotices } from '../ui/Notices.js';
import { DeliverableSettings } from './DeliverableSettings.js';
import { PlanFiles } from './PlanFiles.js';
import { keptPreset, presetsKey } from './presets.js';
import { tracksText } from './track-list.js';
import { say, t } from '../ui/messages.js';

interface PaneProps {
  readonly plan: Plan;
  /** Numbers of the tracks that go through bit for bit. */
  readonly untouched: readonly number[];
  /** Names of the other deliverables. */
  readonly others: readonly string[];
  readonly onChange: (deliverable: Deliverable) => void;
  readonly onRemove: () => void;
}

type Missing = Extract<Finding, { code: 'alternate-missing' | 'alternate-unknown' }>;
const isMissing = (finding: Finding): finding is Missing =>
  finding.code === 'alternate-missing' || finding.code === 'alternate-unknown';

/** One deliverable, open: its settings and every file it will write. */
export function DeliverablePane({ plan, untouched, others, onChange, onRemove }: PaneProps) {
  const { deliverable } = plan;
  const queries = useQueryClient();
  const { tell, complain } = useNotices();
  const keep = async (preset: Deliverable): Promise<void> => {
    await call(CONTRACT.savePreset, { params: { name: preset.name }, body: preset });
    await queries.invalidateQueries({ queryKey: presetsKey });
  };
  const save = async (): Promise<void> => {
    const { name } = deliverable;
    const replaced = (await keptPreset(name))?.deliverable;
    await keep(deliverable);
    if (!replaced) return tell(t('Saved “{name}” as a preset for all albums.', { name }));
    tell(t('Preset “{name}” replaced.', { name }), {
      ...{ label: t('Undo'), run: () => void keep(replaced).catch(complain) },
    });
  };
  const { all } = useFindings();
  const missing = all.filter(isMissing).filter(({ deliverable: of }) => of === deliverable.name);
  const nameFault = (name: string): string | undefined => {
    if (others.some((other) => other.toLowerCase() === name.toLowerCase()))
      return t('Another deliverable has this name.');
    const read = deliverableSchema.safeParse({ ...deliverable, name });
    return read.success
      ? undefined
      : (read.error.issues[0]?.message ?? t('This name can’t be used for a folder.'));
  };
  return (
    <section className="deliverable" aria-label={deliverable.name}>
      <header>
        <DraftField
          label={t('Name of the deliverable')}
          className="plain"
          value={deliverable.name}
          fault={nameFault}
          onCommit={(name) => onChange({ ...deliverable, name })}
        />
        <Button size="sm" variant="outline-primary" onClick={() => void save().catch(complain)}>
          <BookmarkPlus size={16} aria-hidden /> {t('Save as preset')}
        </Button>
        <Button size="sm" variant="outline-primary" onClick={onRemove}>
          <Trash2 size={16} aria-hidden /> {t('Remove')}
        </Button>
      </header>
      <div className="deliverable-columns">
        <div>
          <DeliverableSettings deliverable={deliverable} onChange={onChange} />
          {missing.map((finding) => (
            <p key={finding.alternate} className="setting-note doubtful">
              <TriangleAlert size={14} aria-hidden /> {say(wordFinding(finding))}
            </p>
          ))}
          {untouched.length > 0 && (
            <p className="setting-note">
              {t(
                '{count, plural, one {Track {tracks} is} other {Tracks {tracks} are}} bit-perfect and not dithered.',
                { count: untouched.length, tracks: tracksText(untouched) },
              )}
            </p>
          )}
        </div>
        <div className="plan-scroll">
          <PlanFiles plan={plan} />
        </div>
      </div>
    </section>
  );
}

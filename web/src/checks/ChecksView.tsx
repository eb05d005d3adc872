import {
  acceptFinding,
  acceptFindings,
  fixOf,
  placeWords,
  wordFinding,
  type Finding,
  type Severity,
} from '@oiseau/checks';
import { CircleCheck, CircleX, Info, TriangleAlert, Wrench, type LucideIcon } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { DraftField } from '../ui/DraftField.js';
import { placeToFix } from './place-to-fix.js';
import { ChangedSinceApproval } from './ChangedSinceApproval.js';
import { acceptedTogether, groupFindings, type FindingGroup } from './finding-groups.js';
import { useFindings } from './FindingsContext.js';
import { say, t } from '../ui/messages.js';

const SIGNS: Record<Severity, { icon: LucideIcon; word: string; means: string }> = {
  error: { icon: CircleX, word: t('Error'), means: t('must be fixed before rendering') },
  warning: { icon: TriangleAlert, word: t('Warning'), means: t('likely to be queried') },
  hint: { icon: Info, word: t('Hint'), means: t('worth a look') },
};

/** What is wrong or doubtful, each with the way to fix it, or to accept it for a reason. */
export function ChecksView() {
  const { id, part } = useAlbum('id', 'part');
  const { subject, known, open, accepted } = useFindings();
  const groups = groupFindings(subject, open);
  const together = acceptedTogether(groups);
  /** Kinds whose button to accept all of them stands already, with the first of them. */
  const listed: string[] = [];
  const offered = new Set<string>();
  return (
    <div className="checks">
      <div className="view-head">
        <h2>{t('Checks')}</h2>
        {open.length > 0 && <Summary groups={groups} open={open} />}
        <span className="flex-grow-1" />
        <Link className="btn btn-outline-primary btn-sm" to={`/albums/${id}/checks/loudness`}>
          {t('Loudness report')}
        </Link>
        <Link className="btn btn-outline-primary btn-sm" to={`/albums/${id}/checks/pq-sheet`}>
          {part.kind === 'disc' ? t('PQ sheet') : t('Side sheet')}
        </Link>
      </div>
      <ChangedSinceApproval />
      {known && open.length === 0 && (
        <p className="all-clear">
          <CircleCheck size={20} aria-hidden />{' '}
          {t('All clear: the album can be rendered, and its text and codes are complete.')}
        </p>
      )}
      <ul className="finding-list" aria-label={t('Findings')}>
        {groups.map((group) => {
          const { code } = group.finding;
          // Not its place in the list: a reason that is being typed stays when another finding comes or goes.
          const name = `${code} ${group.place}`;
          const nth = listed.filter((each) => each === name).length;
          listed.push(name);
          const alike = offered.has(code) ? undefined : together.get(code);
          offered.add(code);
          return (
            <OpenFinding
              key={`${name} ${nth}`}
              group={group}
              alike={alike ?? []}
              fix={fixOf(group.finding, subject)}
            />
          );
        })}
      </ul>
      {accepted.length > 0 && <Accepted />}
    </div>
  );
}

/** How many findings of each severity are open, and what that means. */
function Summary({
  groups,
  open,
}: {
  readonly groups: readonly FindingGroup[];
  readonly open: readonly Finding[];
}) {
  const number = (severity: Severity): number =>
    groups.filter(({ finding }) => finding.severity === severity).length;
  const errors = number('error');
  return (
    <p className="text-secondary mb-0">
      {[
        errors > 0 &&
          t('{errors, plural, one {# error} other {# errors}}: must be fixed before rendering {concerned}', {
            errors,
            concerned: concerned(open),
          }).trim(),
        number('warning') > 0 &&
          t('{number, plural, one {# warning} other {# warnings}}: likely to be queried', {
            number: number('warning'),
          }),
        number('hint') > 0 &&
          t('{number, plural, one {# hint} other {# hints}}: worth a look', { number: number('hint') }),
      ]
        .filter(Boolean)
        .join(' · ')}
    </p>
  );
}

/** Findings that were accepted, each with its reason and a way to withdraw it. */
function Accepted() {
  const { edit } = useAlbum('edit');
  const { subject, accepted } = useFindings();
  return (
    <>
      <h3>{t('Accepted')}</h3>
      <ul className="finding-list accepted" aria-label={t('Accepted findings')}>
        {accepted.map(({ finding, reason }, i) => (
          <li key={i}>
            <Sign severity={finding.severity} />
            <span className="finding-place">{say(placeWords(subject, finding))}</span>
            <span className="finding-words">
              {say(wordFinding(finding))} <em>“{reason}”</em>
            </span>
            <span className="finding-acts">
              <Button
                size="sm"
                variant="link"
                onClick={() =>
                  edit(t('“{finding}” no longer accepted', { finding: wordFinding(finding) }), (before) =>
                    acceptFinding(before, finding, null),
                  )
                }
              >
                {t('Withdraw')}
              </Button>
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

function Sign({ severity }: { severity: Severity }) {
  const { icon: Icon, word, means } = SIGNS[severity];
  return (
    <span className="finding-sign" title={means}>
      <Icon size={18} aria-hidden /> {word}
    </span>
  );
}

/** The deliverables that errors concern, where they concern those alone: `“store”`. */
function concerned(findings: readonly Finding[]): string {
  const errors = findings.filter(({ severity }) => severity === 'error');
  const names = errors.map((finding) => ('deliverable' in finding ? finding.deliverable : null));
  return names.includes(null) ? '' : [...new Set(names)].map((name) => `“${name}”`).join(', ');
}

/** What a reason is asked for: this finding, or all of its kind. */
type Accepting = 'this' | 'all' | null;

/** @param alike all findings of this kind, where they can be accepted together; else none */
function OpenFinding({
  group,
  alike,
  fix,
}: {
  group: FindingGroup;
  alike: readonly Finding[];
  fix: ReturnType<typeof fixOf>;
}) {
  const { id, edit } = useAlbum('id', 'edit');
  const [accepting, setAccepting] = useState<Accepting>(null);
  const { finding, place, words } = group;
  const accept = (reason: string): void => {
    const [findings, called] =
      accepting === 'all'
        ? [alike, t('{count} findings like “{words}”', { count: alike.length, words })]
        : [group.all, `“${words}”`];
    setAccepting(null);
    if (reason.trim() !== '')
      edit(t('{called} accepted', { called }), (before) => acceptFindings(before, findings, reason.trim()));
  };
  return (
    <li className={finding.severity}>
      <Sign severity={finding.severity} />
      <span className="finding-place">{place}</span>
      <span className="finding-words">{words}</span>
      <span className="finding-acts">
        {fix && (
          <Button
            size="sm"
            variant="outline-primary"
            onClick={() => edit(t('{label} ({place})', { label: fix.label, place }), fix.change)}
          >
            <Wrench size={14} aria-hidden /> {say(fix.label)}
          </Button>
        )}
        {finding.severity !== 'error' && accepting === null && (
          <Button size="sm" variant="link" onClick={() => setAccepting('this')}>
            {t('Accept …')}
          </Button>
        )}
        {alike.length > 0 && accepting === null && (
          <Button size="sm" variant="link" onClick={() => setAccepting('all')}>
            {t('Accept all {count} like this …', { count: alike.length })}
          </Button>
        )}
        {accepting !== null && (
          <DraftField
            label={accepting === 'all' ? t('Reason for accepting all') : t('Reason for accepting this')}
            className="form-control-sm"
            placeholder={t('Reason, then Enter')}
            value=""
            // The user has just opened the field.
            autoFocus
            onCommit={accept}
          />
        )}
        <Link to={`/albums/${id}/${placeToFix(finding)}`}>{t('Show')}</Link>
      </span>
    </li>
  );
}

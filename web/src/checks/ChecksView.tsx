import { acceptFinding, mendOf, placeWords, wordFinding, type Finding, type Severity } from '@oiseau/core';
import { CircleCheck, CircleX, Info, TriangleAlert, Wrench, type LucideIcon } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { DraftField } from '../ui/DraftField.js';
import { count } from '../ui/format.js';
import { placeToMend } from './place-to-mend.js';
import { ChangedSinceApproval } from './ChangedSinceApproval.js';
import { useFindings } from './FindingsContext.js';

const SIGNS: Record<Severity, { icon: LucideIcon; word: string; means: string }> = {
  error: { icon: CircleX, word: 'Error', means: 'this can’t be pressed' },
  warning: { icon: TriangleAlert, word: 'Warning', means: 'somebody will ask' },
  hint: { icon: Info, word: 'Hint', means: 'worth a look' },
};

/** What is wrong or doubtful, each with the way to mend it, or to accept it for a reason. */
export function ChecksView() {
  const { id, part, edit } = useAlbum('id', 'part', 'edit');
  const { subject, known, open, accepted } = useFindings();
  const number = (severity: Severity): number =>
    open.filter((finding) => finding.severity === severity).length;
  const errors = number('error');
  return (
    <div className="checks">
      <div className="view-head">
        <h2>Checks</h2>
        {open.length > 0 && (
          <p className="text-secondary mb-0">
            {[
              errors > 0 && `${count(errors, 'error')}: this can’t be pressed`,
              number('warning') > 0 && `${count(number('warning'), 'warning')}: somebody will ask`,
              number('hint') > 0 && `${count(number('hint'), 'hint')}: worth a look`,
            ]
              .filter(Boolean)
              .join(' · ')}
          </p>
        )}
        <span className="flex-grow-1" />
        <Link className="btn btn-outline-primary btn-sm" to={`/albums/${id}/checks/loudness`}>
          Loudness report
        </Link>
        <Link className="btn btn-outline-primary btn-sm" to={`/albums/${id}/checks/pq-sheet`}>
          {part.kind === 'disc' ? 'PQ sheet' : 'Sheet of the side'}
        </Link>
      </div>
      <ChangedSinceApproval />
      {known && open.length === 0 && (
        <p className="all-clear">
          <CircleCheck size={20} aria-hidden /> Nothing is left to mend: the disc is legal, and its words and
          codes are in order.
        </p>
      )}
      <ul className="finding-list" aria-label="Findings">
        {open.map((finding, i) => (
          <OpenFinding
            key={`${finding.code} ${placeWords(subject, finding)} ${i}`}
            finding={finding}
            mend={mendOf(finding, subject)}
          />
        ))}
      </ul>
      {accepted.length > 0 && (
        <>
          <h3>Accepted</h3>
          <ul className="finding-list accepted" aria-label="Accepted findings">
            {accepted.map(({ finding, reason }, i) => (
              <li key={i}>
                <Sign severity={finding.severity} />
                <span className="finding-place">{placeWords(subject, finding)}</span>
                <span className="finding-words">
                  {wordFinding(finding)} <em>“{reason}”</em>
                </span>
                <span className="finding-acts">
                  <Button
                    size="sm"
                    variant="link"
                    onClick={() =>
                      edit(`“${wordFinding(finding)}” no longer accepted`, (before) =>
                        acceptFinding(before, finding, null),
                      )
                    }
                  >
                    Withdraw
                  </Button>
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
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

function OpenFinding({ finding, mend }: { finding: Finding; mend: ReturnType<typeof mendOf> }) {
  const { id, edit } = useAlbum('id', 'edit');
  const { subject } = useFindings();
  const [asking, setAsking] = useState(false);
  const words = wordFinding(finding);
  return (
    <li className={finding.severity}>
      <Sign severity={finding.severity} />
      <span className="finding-place">{placeWords(subject, finding)}</span>
      <span className="finding-words">{words}</span>
      <span className="finding-acts">
        {mend && (
          <Button
            size="sm"
            variant="outline-primary"
            onClick={() => edit(`${mend.label} (${placeWords(subject, finding)})`, mend.change)}
          >
            <Wrench size={14} aria-hidden /> {mend.label}
          </Button>
        )}
        {finding.severity !== 'error' && !asking && (
          <Button size="sm" variant="link" onClick={() => setAsking(true)}>
            Accept …
          </Button>
        )}
        {asking && (
          <DraftField
            label="Reason why this is accepted"
            className="form-control-sm"
            placeholder="why it may stay, then Enter"
            value=""
            // The field comes because somebody asked for it just now.
            autoFocus
            onCommit={(reason) => {
              setAsking(false);
              if (reason.trim() !== '')
                edit(`“${words}” accepted`, (before) => acceptFinding(before, finding, reason.trim()));
            }}
          />
        )}
        <Link to={`/albums/${id}/${placeToMend(finding)}`}>Go there</Link>
      </span>
    </li>
  );
}

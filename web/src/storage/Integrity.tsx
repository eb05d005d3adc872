import { CONTRACT, type Keeping } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { CircleCheck, CircleX } from 'lucide-react';
import { Button, ProgressBar } from 'react-bootstrap';
import { useVisitor } from '../access/VisitorContext.js';
import { call } from '../api/client.js';
import { keepingKey } from '../api/queries.js';
import { formatBytes, formatWhen } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { saySentence, t } from '../ui/messages.js';

/** Whether every file and document is as it was, when that was looked over last, and the way to look again. */
export function Integrity({ keeping: { verified, verifying } }: { keeping: Keeping }) {
  const queries = useQueryClient();
  // It concerns all albums.
  const { unlimited } = useVisitor();
  const { complain } = useNotices();
  const ask = (what: 'verify' | 'stopVerify'): void => {
    call(CONTRACT[what], {}).then(() => queries.invalidateQueries({ queryKey: keepingKey }), complain);
  };
  const busy = verifying?.state === 'queued' || verifying?.state === 'running';
  const faults = verified?.report.faults ?? [];
  const open = faults.filter(({ healed }) => !healed);
  return (
    <section aria-label={t('Last verified')}>
      <h2>{t('Integrity')}</h2>
      {verified ? (
        <p className={open.length === 0 ? 'verdict' : 'verdict failed'}>
          {open.length === 0 ? <CircleCheck size={20} aria-hidden /> : <CircleX size={20} aria-hidden />}
          <strong>
            {open.length === 0
              ? t('All files are intact.')
              : t('{count, plural, one {# problem} other {# problems}} found.', { count: open.length })}
          </strong>{' '}
          {t('{files, plural, one {# file} other {# files}} ({bytes}) and all documents were read {at}.', {
            files: verified.report.files,
            bytes: formatBytes(verified.report.bytes),
            at: formatWhen(verified.at, new Date()),
          })}
        </p>
      ) : (
        <p>
          {t(
            'Never verified. This reads every master, picture and render and compares it with its checksum.',
          )}
        </p>
      )}
      {faults.length > 0 && (
        <ul className="fault-list">
          {faults.map(({ words, healed }) => (
            <li key={words} className={healed ? 'text-secondary' : undefined}>
              {words}
            </li>
          ))}
        </ul>
      )}
      {busy ? (
        <div className="keeping-progress">
          <ProgressBar
            now={100 * (verifying.progress?.share ?? 0)}
            label={
              verifying.progress
                ? t('{percent} %', { percent: Math.round(100 * verifying.progress.share) })
                : ''
            }
            aria-label={t('Verifying all files')}
          />
          {unlimited && (
            <Button size="sm" variant="outline-primary" onClick={() => ask('stopVerify')}>
              {t('Stop')}
            </Button>
          )}
        </div>
      ) : (
        unlimited && (
          <Button variant="outline-primary" onClick={() => ask('verify')}>
            {t('Verify all files')}
          </Button>
        )
      )}
      {verifying?.state === 'failed' && <p className="text-danger mt-2">{saySentence(verifying)}</p>}
    </section>
  );
}

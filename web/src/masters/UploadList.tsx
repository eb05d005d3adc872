import { Check, CircleHelp, CircleX, X } from 'lucide-react';
import { Button, ProgressBar } from 'react-bootstrap';
import { formatBytes } from '../ui/format.js';
import { IconButton } from '../ui/IconButton.js';
import { useUploads } from './UploadContext.js';
import { STOPPABLE, type Upload } from './uploads.js';
import { rich, t } from '../ui/messages.js';

const UNDER_WAY: readonly Upload['state'][] = ['waiting', 'sending', 'judged', 'decoding', 'done'];

const WORDS: Partial<Record<Upload['state'], string>> = {
  waiting: t('waiting'),
  judged: t('reading'),
  done: t('in'),
};

/** Files on their way in, those that ask something, and those that were refused, each with its reason. */
export function UploadList() {
  const { queue, uploads } = useUploads();
  const coming = uploads.filter(({ state }) => UNDER_WAY.includes(state));
  const asking = uploads.filter(({ state }) => state === 'asks');
  const refused = uploads.filter(({ state }) => state === 'refused');
  const again = uploads.filter(({ state }) => state === 'again');
  if (uploads.length === 0 && queue.leftAlone === 0) return null;
  return (
    <section className="uploads" aria-label={t('Importing')}>
      {coming.length > 0 && <Coming uploads={coming} />}
      {asking.length > 0 && <MonoQuestion uploads={asking} />}
      {again.length > 0 && <Again uploads={again} />}
      {refused.length > 0 && <Refused uploads={refused} />}
      {queue.leftAlone > 0 && (
        <p className="text-secondary mb-0">
          {t(
            '{files, plural, one {# other file in the folder was skipped.} other {# other files in the folder were skipped.}}',
            { files: queue.leftAlone },
          )}{' '}
          <Button variant="link" size="sm" className="p-0" onClick={() => queue.forget()}>
            {t('Dismiss')}
          </Button>
        </p>
      )}
    </section>
  );
}

/** Files whose very bytes the album has: nothing was added. */
function Again({ uploads }: { uploads: readonly Upload[] }) {
  const { queue } = useUploads();
  return (
    <div role="status" className="again">
      <Check size={18} aria-hidden />
      <span className="flex-grow-1">
        {uploads.length === 1
          ? rich(
              '<b>“{name}” is already in this album</b> (identical bytes). Nothing was added.',
              { b: <strong /> },
              { name: uploads[0]?.name },
            )
          : rich(
              '<b>{count} files are already in this album</b> (identical bytes). Nothing was added.',
              { b: <strong /> },
              { count: uploads.length },
            )}
        {uploads.length > 1 && ` ${uploads.map(({ name }) => name).join(', ')}`}
      </span>
      <Button variant="link" size="sm" onClick={() => queue.forget()}>
        {t('Dismiss')}
      </Button>
    </div>
  );
}

function Coming({ uploads }: { uploads: readonly Upload[] }) {
  const { queue } = useUploads();
  const total = uploads.reduce((sum, { bytes }) => sum + bytes, 0);
  const sent = uploads.reduce((sum, { bytes, share }) => sum + bytes * share, 0);
  return (
    <>
      <p className="mb-2 d-flex align-items-center gap-2">
        {t('Importing {count, plural, one {# file} other {# files}}, {sent} of {total}', {
          count: uploads.length,
          sent: formatBytes(sent),
          total: formatBytes(total),
        })}
        <span className="flex-grow-1" />
        {uploads.some(({ state }) => STOPPABLE.includes(state)) && (
          <Button size="sm" variant="outline-primary" onClick={() => queue.stop()}>
            {t('Stop all')}
          </Button>
        )}
      </p>
      <ul>
        {uploads.map(({ id, name, share, state }) => (
          <li key={id}>
            <span className="file-name">{name}</span>
            <ProgressBar now={100 * share} aria-label={name} />
            <span className="text-secondary num">
              {WORDS[state] ??
                (state === 'decoding'
                  ? t('decoded, {percent} %', { percent: Math.floor(100 * share) })
                  : `${Math.floor(100 * share)} %`)}
            </span>
            {STOPPABLE.includes(state) ? (
              <IconButton icon={X} label={t('Stop {name}', { name })} onClick={() => queue.stop(id)} />
            ) : (
              <span />
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

function MonoQuestion({ uploads }: { uploads: readonly Upload[] }) {
  const { queue } = useUploads();
  const ids = uploads.map(({ id }) => id);
  return (
    <div role="alert" className="asking">
      <CircleHelp size={18} aria-hidden />
      <span className="flex-grow-1">
        <strong>
          {uploads.length === 1
            ? t('“{name}” is mono.', { name: uploads[0]?.name })
            : t('{count} files are mono: {names}.', {
                count: uploads.length,
                names: uploads.map(({ name }) => name).join(', '),
              })}
        </strong>{' '}
        {t('A disc is stereo: a mono file can be used on both channels at its own level.')}
      </span>
      <Button size="sm" onClick={() => queue.answerMono(ids, true)}>
        {t('Use on both channels')}
      </Button>
      <Button size="sm" variant="outline-primary" onClick={() => queue.answerMono(ids, false)}>
        {t('Skip')}
      </Button>
    </div>
  );
}

function Refused({ uploads }: { uploads: readonly Upload[] }) {
  const { queue } = useUploads();
  return (
    <div role="alert" className="refused">
      <div className="d-flex align-items-center">
        <strong className="flex-grow-1">
          {t('{count, plural, one {# file was} other {# files were}} not imported:', {
            count: uploads.length,
          })}
        </strong>
        <Button variant="link" size="sm" onClick={() => queue.forget()}>
          {t('Dismiss')}
        </Button>
      </div>
      <ul>
        {uploads.map(({ id, name, reason }) => (
          <li key={id}>
            <CircleX size={16} aria-hidden /> <span className="file-name">{name}</span> <span>{reason}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

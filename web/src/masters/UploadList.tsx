import { CircleHelp, CircleX } from 'lucide-react';
import { Button, ProgressBar } from 'react-bootstrap';
import { count, formatBytes } from '../ui/format.js';
import { useUploads } from './UploadContext.js';
import type { Upload } from './uploads.js';

const UNDER_WAY: readonly Upload['state'][] = ['waiting', 'sending', 'judged', 'done'];

const WORDS: Partial<Record<Upload['state'], string>> = { waiting: 'waits', judged: 'is read', done: 'in' };

/** Files on their way in, those that ask something, and those that were refused, each with its reason. */
export function UploadList() {
  const { queue, uploads } = useUploads();
  const coming = uploads.filter(({ state }) => UNDER_WAY.includes(state));
  const asking = uploads.filter(({ state }) => state === 'asks');
  const refused = uploads.filter(({ state }) => state === 'refused');
  if (uploads.length === 0 && queue.leftAlone === 0) return null;
  return (
    <section className="uploads" aria-label="Files on their way in">
      {coming.length > 0 && <Coming uploads={coming} />}
      {asking.length > 0 && <MonoQuestion uploads={asking} />}
      {refused.length > 0 && <Refused uploads={refused} />}
      {queue.leftAlone > 0 && (
        <p className="text-secondary mb-0">
          {count(queue.leftAlone, 'other file')} in the folder {queue.leftAlone === 1 ? 'was' : 'were'} left
          alone.{' '}
          <Button variant="link" size="sm" className="p-0" onClick={() => queue.clear()}>
            Clear
          </Button>
        </p>
      )}
    </section>
  );
}

function Coming({ uploads }: { uploads: readonly Upload[] }) {
  const total = uploads.reduce((sum, { bytes }) => sum + bytes, 0);
  const sent = uploads.reduce((sum, { bytes, share }) => sum + bytes * share, 0);
  return (
    <>
      <p className="mb-2">
        {count(uploads.length, 'file')} on the way in, {formatBytes(sent)} of {formatBytes(total)}
      </p>
      <ul>
        {uploads.map(({ id, name, share, state }) => (
          <li key={id}>
            <span className="file-name">{name}</span>
            <ProgressBar now={100 * share} aria-label={name} />
            <span className="text-secondary num">{WORDS[state] ?? `${Math.floor(100 * share)} %`}</span>
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
            ? `“${uploads[0]?.name}” is mono.`
            : `${uploads.length} files are mono: ${uploads.map(({ name }) => name).join(', ')}.`}
        </strong>{' '}
        A disc has two channels: the one can stand on both sides, at its own level.
      </span>
      <Button size="sm" onClick={() => queue.answerMono(ids, true)}>
        Use on both sides
      </Button>
      <Button size="sm" variant="outline-primary" onClick={() => queue.answerMono(ids, false)}>
        Leave out
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
          {count(uploads.length, 'file was', 'files were')} not taken in:
        </strong>
        <Button variant="link" size="sm" onClick={() => queue.clear()}>
          Clear
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

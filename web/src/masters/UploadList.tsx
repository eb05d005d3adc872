import { CircleX } from 'lucide-react';
import { Button, ProgressBar } from 'react-bootstrap';
import { count, formatBytes } from '../ui/format.js';
import { useUploads } from './UploadContext.js';

/** Files on their way in, and those that were refused, each with its reason. */
export function UploadList() {
  const { queue, uploads } = useUploads();
  if (uploads.length === 0) return null;
  const refused = uploads.filter(({ state }) => state === 'refused');
  const coming = uploads.filter(({ state }) => state !== 'refused');
  const total = coming.reduce((sum, { bytes }) => sum + bytes, 0);
  const sent = coming.reduce((sum, { bytes, share }) => sum + bytes * share, 0);
  return (
    <section className="uploads" aria-label="Files on their way in">
      {coming.length > 0 && (
        <>
          <p className="mb-2">
            {count(coming.length, 'file')} on the way in, {formatBytes(sent)} of {formatBytes(total)}
          </p>
          <ul>
            {coming.map(({ id, name, share, state }) => (
              <li key={id}>
                <span className="file-name">{name}</span>
                <ProgressBar now={100 * share} aria-label={name} />
                <span className="text-secondary num">
                  {state === 'waiting' ? 'waits' : state === 'done' ? 'in' : `${Math.floor(100 * share)} %`}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      {refused.length > 0 && (
        <div role="alert" className="refused">
          <div className="d-flex align-items-center">
            <strong className="flex-grow-1">
              {count(refused.length, 'file was', 'files were')} not taken in:
            </strong>
            <Button variant="link" size="sm" onClick={() => queue.clear()}>
              Clear
            </Button>
          </div>
          <ul>
            {refused.map(({ id, name, reason }) => (
              <li key={id}>
                <CircleX size={16} aria-hidden /> <span className="file-name">{name}</span>{' '}
                <span>{reason}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  );
}

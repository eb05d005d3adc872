import { BookOpen } from 'lucide-react';
import { Link } from 'react-router';
import { useHealth, useKeeping } from '../api/queries.js';
import { Loading } from '../ui/Loading.js';
import { ThemeButton } from '../ui/IconButton.js';
import { count, formatBytes } from '../ui/format.js';
import { DiskUse } from './DiskUse.js';
import { CleanUp } from './CleanUp.js';
import { Integrity } from './Integrity.js';

/** What lies where and how large it is, whether it is as it was, and what will go by itself. */
export function StoragePage() {
  const keeping = useKeeping();
  const health = useHealth();
  const { data } = keeping;
  return (
    <main className="shelf keeping">
      <header className="shelf-header">
        <h1>Storage</h1>
        <span className="flex-grow-1" />
        <ThemeButton />
        <Link to="/">
          <BookOpen size={16} aria-hidden /> Back to the Shelf
        </Link>
      </header>
      {keeping.isPending && <Loading>Loading storage</Loading>}
      {keeping.error && (
        <p role="alert" className="text-danger">
          {keeping.error.message}
        </p>
      )}
      {data && (
        <>
          <Integrity keeping={data} />
          <DiskUse keeping={data} />
          <CleanUp keeping={data} />
        </>
      )}
      {health.data && (
        <section aria-label="This installation">
          <h2>This installation</h2>
          <dl className="keeping-facts">
            <dt>Oiseau</dt>
            <dd>{health.data.versions.oiseau}</dd>
            <dt>Database</dt>
            <dd>
              {health.data.versions.database}, responds in {health.data.databaseMs.toFixed(1)} ms
            </dd>
            <dt>FFmpeg</dt>
            <dd>{health.data.versions.ffmpeg ?? 'missing'}</dd>
            <dt>Node.js</dt>
            <dd>{health.data.versions.node}</dd>
            <dt>Workers</dt>
            <dd>
              {health.data.workers.length === 0
                ? 'none'
                : health.data.workers
                    .map(({ name, secondsAgo }) => `${name} (${Math.round(secondsAgo)} s ago)`)
                    .join(', ')}
            </dd>
            <dt>Jobs</dt>
            <dd>
              {health.data.queue.running} running, {count(health.data.queue.queued, 'job')} queued
            </dd>
            <dt>Reserved</dt>
            <dd>{formatBytes(health.data.disk.reserve)}</dd>
          </dl>
        </section>
      )}
    </main>
  );
}

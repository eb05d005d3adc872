import { BookOpen } from 'lucide-react';
import { Link } from 'react-router';
import { useHealth, useKeeping } from '../api/queries.js';
import { Loading } from '../ui/Loading.js';
import { ThemeButton } from '../ui/IconButton.js';
import { formatBytes, formatNumber } from '../ui/format.js';
import { DiskUse } from './DiskUse.js';
import { CleanUp } from './CleanUp.js';
import { Integrity } from './Integrity.js';
import { LanguageMenu } from '../ui/LanguageMenu.js';
import { t } from '../ui/messages.js';

/** What lies where and how large it is, whether it is as it was, and what will go by itself. */
export function StoragePage() {
  const keeping = useKeeping();
  const health = useHealth();
  const { data } = keeping;
  return (
    <main className="shelf keeping">
      <header className="shelf-header">
        <h1>{t('Storage')}</h1>
        <span className="flex-grow-1" />
        <div className="d-flex">
          <LanguageMenu />
          <ThemeButton />
        </div>
        <Link to="/">
          <BookOpen size={16} aria-hidden /> {t('Back to the Shelf')}
        </Link>
      </header>
      {keeping.isPending && <Loading>{t('Loading storage')}</Loading>}
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
        <section aria-label={t('This installation')}>
          <h2>{t('This installation')}</h2>
          <dl className="keeping-facts">
            <dt>Oiseau</dt>
            <dd>{health.data.versions.oiseau}</dd>
            <dt>{t('Database')}</dt>
            <dd>
              {t('{database}, responds in {milliseconds} ms', {
                database: health.data.versions.database,
                milliseconds: formatNumber(health.data.databaseMs, 1),
              })}
            </dd>
            <dt>{t('FFmpeg')}</dt>
            <dd>{health.data.versions.ffmpeg ?? t('missing')}</dd>
            <dt>{t('Node.js')}</dt>
            <dd>{health.data.versions.node}</dd>
            <dt>{t('Workers')}</dt>
            <dd>
              {health.data.workers.length === 0
                ? t('none')
                : health.data.workers
                    .map(({ name, secondsAgo }) =>
                      t('{name} ({seconds} s ago)', { name, seconds: Math.round(secondsAgo) }),
                    )
                    .join(', ')}
            </dd>
            <dt>{t('Jobs')}</dt>
            <dd>
              {t('{running} running, {queued, plural, one {# job} other {# jobs}} queued', {
                running: health.data.queue.running,
                queued: health.data.queue.queued,
              })}
            </dd>
            <dt>{t('Reserved')}</dt>
            <dd>{formatBytes(health.data.disk.reserve)}</dd>
          </dl>
        </section>
      )}
    </main>
  );
}

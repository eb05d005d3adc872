import type { Keeping } from '@oiseau/api';
import { formatCount, formatBytes } from '../ui/format.js';
import { rich, t } from '../ui/messages.js';

const NAMES: Record<Keeping['stored'][number]['kind'], string> = {
  masters: t('Masters'),
  decoded: t('Decoded audio of compressed masters'),
  pictures: t('Pictures'),
  renders: t('Renders'),
  uploads: t('Uploads in progress'),
  images: t('Opened disc images and renders'),
  database: t('Database'),
  backups: t('Backups before upgrades'),
};

/** The disk as one bar, and what each kind of file takes of it. */
export function DiskUse({ keeping: { stored, disk } }: { keeping: Keeping }) {
  const own = stored.reduce((sum, { bytes }) => sum + bytes, 0);
  const others = Math.max(0, disk.total - disk.free - own);
  const share = (bytes: number): string => `${(100 * bytes) / Math.max(1, disk.total)}%`;
  return (
    <section aria-label={t('Disk')}>
      <h2>{t('Disk')}</h2>
      <p>
        {rich(
          '<b>{free}</b> of {total} are free. Oiseau uses <b>{own}</b>.',
          { b: <strong /> },
          { free: formatBytes(disk.free), total: formatBytes(disk.total), own: formatBytes(own) },
        )}
      </p>
      <div
        className="disk-bar"
        role="img"
        aria-label={t('{free} of {total} free', {
          free: formatBytes(disk.free),
          total: formatBytes(disk.total),
        })}
      >
        <span
          className="disk-own"
          style={{ width: share(own) }}
          title={t('Oiseau: {own}', { own: formatBytes(own) })}
        />
        <span
          className="disk-others"
          style={{ width: share(others) }}
          title={t('Other files: {others}', { others: formatBytes(others) })}
        />
      </div>
      <p className="disk-key text-secondary">
        <span className="disk-own" aria-hidden /> Oiseau <span className="disk-others" aria-hidden />{' '}
        {t('other files on this disk')} <span className="disk-free" aria-hidden /> {t('free')}
      </p>
      <table className="table keeping-table">
        <thead>
          <tr>
            <th>{t('What')}</th>
            <th className="num">{t('Files')}</th>
            <th className="num">{t('Size')}</th>
          </tr>
        </thead>
        <tbody>
          {stored.map(({ kind, files, bytes }) => (
            <tr key={kind} className={bytes === 0 ? 'text-secondary' : undefined}>
              <th scope="row">{NAMES[kind]}</th>
              <td className="num">{files === 0 ? '–' : formatCount(files)}</td>
              <td className="num">{bytes === 0 ? '–' : formatBytes(bytes)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

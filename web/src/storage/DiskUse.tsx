import type { Keeping } from '@oiseau/api';
import { formatCount, formatBytes } from '../ui/format.js';

const NAMES: Record<Keeping['stored'][number]['kind'], string> = {
  masters: 'Masters',
  decoded: 'Decoded audio of compressed masters',
  pictures: 'Pictures',
  renders: 'Renders',
  uploads: 'Uploads in progress',
  images: 'Opened disc images and renders',
  database: 'Database',
  backups: 'Backups before upgrades',
};

/** The disk as one bar, and what each kind of file takes of it. */
export function DiskUse({ keeping: { stored, disk } }: { keeping: Keeping }) {
  const own = stored.reduce((sum, { bytes }) => sum + bytes, 0);
  const others = Math.max(0, disk.total - disk.free - own);
  const share = (bytes: number): string => `${(100 * bytes) / Math.max(1, disk.total)}%`;
  return (
    <section aria-label="Disk">
      <h2>Disk</h2>
      <p>
        <strong>{formatBytes(disk.free)}</strong> of {formatBytes(disk.total)} are free. Oiseau uses{' '}
        <strong>{formatBytes(own)}</strong>.
      </p>
      <div
        className="disk-bar"
        role="img"
        aria-label={`${formatBytes(disk.free)} of ${formatBytes(disk.total)} free`}
      >
        <span className="disk-own" style={{ width: share(own) }} title={`Oiseau: ${formatBytes(own)}`} />
        <span
          className="disk-others"
          style={{ width: share(others) }}
          title={`Other files: ${formatBytes(others)}`}
        />
      </div>
      <p className="disk-key text-secondary">
        <span className="disk-own" aria-hidden /> Oiseau <span className="disk-others" aria-hidden /> other
        files on this disk <span className="disk-free" aria-hidden /> free
      </p>
      <table className="table keeping-table">
        <thead>
          <tr>
            <th>What</th>
            <th className="num">Files</th>
            <th className="num">Size</th>
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

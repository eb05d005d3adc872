import { statfs } from 'node:fs/promises';
import type { Health } from '@oiseau/api';
import { versionsHere } from '@oiseau/host';
import type { Database } from '../db/database.js';
import type { Role } from '../jobs/job-kinds.js';
import { gigabytes, type MediaStore } from '../media/media-store.js';
import { troubleOfStore } from '../media/store-id.js';

/** A worker that has given no sign for so long is missed, in seconds; an idle one gives one every few. */
const MISSED_AFTER = 30;

/**
 * Notes that a worker is there.
 * @param trouble why it can't work; null: it can
 * @param role whose jobs it does; left out: all
 */
export async function giveSign(
  db: Database,
  name: string,
  trouble: string | null,
  role?: Role,
): Promise<void> {
  await db.execute('REPLACE INTO workers (name, seen_at, trouble, role) VALUES (?, UTC_TIMESTAMP(3), ?, ?)', [
    name,
    trouble?.slice(0, 500) ?? null,
    role ?? null,
  ]);
}

/** A worker that leaves by itself is not missed. */
export async function signOff(db: Database, name: string): Promise<void> {
  await db.execute('DELETE FROM workers WHERE name = ?', [name]);
}

/** Nothing is free on a disk that is not there. */
export async function diskOf(media: MediaStore): Promise<Health['disk']> {
  const { bavail, blocks, bsize } = await statfs(media.root).catch(() => NO_DISK);
  return { free: bavail * bsize, total: blocks * bsize, reserve: media.reserve };
}

const NO_DISK = { bavail: 0, blocks: 0, bsize: 0 };

/**
 * How everything is: asked of the things themselves, not remembered.
 * @param standins why the simulated recipients don't run; null: they do, or are not wanted
 */
export async function healthOf(
  db: Database,
  media: MediaStore,
  standins: string | null = null,
): Promise<Health> {
  const asked = performance.now();
  // A real query: it reads a row of a table of ours.
  const version = await db.one(
    (row) => String(row.version),
    'SELECT VERSION() AS version FROM (SELECT COUNT(*) AS count FROM albums) AS albums',
  );
  const databaseMs = performance.now() - asked;
  const workers = await db.many(
    (row) => ({
      name: String(row.name),
      secondsAgo: Number(row.seconds),
      trouble: row.trouble === null ? null : String(row.trouble),
      computes: row.role !== 'courier',
    }),
    'SELECT name, role, TIMESTAMPDIFF(MICROSECOND, seen_at, UTC_TIMESTAMP(6)) / 1e6 AS seconds, trouble FROM workers WHERE seen_at > UTC_TIMESTAMP(3) - INTERVAL 1 DAY ORDER BY name',
  );
  const queue = await db.one(
    (row) => ({ queued: Number(row.queued), running: Number(row.running) }),
    "SELECT COUNT(CASE WHEN state = 'queued' THEN 1 END) AS queued, COUNT(CASE WHEN state = 'running' THEN 1 END) AS running FROM jobs WHERE state IN ('queued', 'running')",
  );
  const [disk, { oiseau, ffmpeg }] = [await diskOf(media), await versionsHere()];
  const store = await troubleOfStore(media);
  const troubles = troublesOf({ workers, queue, disk, ffmpeg, store, standins });
  return {
    ok: troubles.length === 0,
    troubles,
    versions: { oiseau, node: process.versions.node, database: version, ffmpeg },
    databaseMs,
    workers: workers.map(({ name, secondsAgo }) => ({ name, secondsAgo })),
    queue,
    disk,
  };
}

interface Signs extends Pick<Health, 'queue' | 'disk'> {
  readonly workers: readonly {
    readonly name: string;
    readonly secondsAgo: number;
    readonly trouble: string | null;
    /** A courier measures and renders nothing. */
    readonly computes: boolean;
  }[];
  readonly ffmpeg: string | null;
  /** Why the media store can't be used; null: it can. */
  readonly store?: string | null;
  readonly standins?: string | null;
}

/** What is wrong, the worst first. */
export function troublesOf({ workers, queue, disk, ffmpeg, store = null, standins = null }: Signs): string[] {
  const there = workers.filter(({ secondsAgo }) => secondsAgo < MISSED_AFTER);
  const troubles: string[] = [];
  if (store !== null) troubles.push(store);
  else if (disk.free <= disk.reserve)
    troubles.push(
      `The disk is nearly full (${gigabytes(disk.free)} free). Importing and rendering are stopped.`,
    );
  if (!there.some(({ computes }) => computes))
    troubles.push(
      queue.queued > 0
        ? 'No worker responds. Queued measuring and rendering is on hold.'
        : 'No worker responds. Measuring and rendering are not possible.',
    );
  for (const { name, trouble } of there)
    if (trouble !== null && trouble !== store) troubles.push(`Worker ${name} can’t run jobs: ${trouble}`);
  if (ffmpeg === null)
    troubles.push(
      'FFmpeg is missing, so compressed files can’t be imported or rendered. Install it: sudo apt-get install ffmpeg',
    );
  if (disk.free > disk.reserve && disk.free < 2 * disk.reserve)
    troubles.push(`The disk has ${gigabytes(disk.free)} left; ${gigabytes(disk.reserve)} are reserved.`);
  if (standins !== null) troubles.push(standins);
  return troubles;
}

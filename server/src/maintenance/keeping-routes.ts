import { msg } from '@oiseau/messages';
import { join } from 'node:path';
import { CONTRACT, type Keeping } from '@oiseau/api';
import { Router } from 'express';
import { recordEvent } from '../access/events.js';
import { demandUnlimited, visitorOf } from '../access/authentication.js';
import { serve } from '../access/serve.js';
import { ApiError } from '../http/api-error.js';
import { enqueueOnce, newestJob, requestStop } from '../jobs/job-repository.js';
import { diskOf, healthOf } from './health.js';
import {
  binned,
  clearPassing,
  plus,
  clearUnused,
  emptyBin,
  goesAt,
  listUnused,
  measure,
  type Cleared,
  type HousekeepingParts,
} from './housekeeping.js';
import { lastVerifyReport } from './report-repository.js';

/** What was cleared, as it stands in the events. */
const CLEARED = {
  unused: 'unused masters and pictures',
  bin: 'deleted albums',
  passing: 'uploads and opened images',
} as const;

/** The one thing that is looked over. */
const STORE = 'store';

/** @param data the data folder, in which the media store lies */
export function keepingRoutes(
  parts: HousekeepingParts,
  data: string,
  standinsTrouble: () => Promise<string | null>,
): Router {
  const { db, media } = parts;
  const router = Router();

  serve(router, CONTRACT.health, async () => healthOf(db, media, await standinsTrouble()));

  serve(router, CONTRACT.keeping, async (_given, request) => {
    const visitor = visitorOf(request);
    const { opensAll } = visitor;
    const job = await newestJob(db, 'verify', STORE);
    const verified = await lastVerifyReport(db);
    return {
      stored: await storedIn(parts, data),
      disk: await diskOf(media),
      // Names of files that other albums have left, and of what is damaged in them, are not for a key to some albums.
      unused: opensAll ? await listUnused(db) : [],
      bin: await Promise.all(
        (await binned(db, visitor)).map(async (album) => ({
          ...album,
          goesAt: goesAt(album),
          renderBytes: await renderBytes(parts, album.id),
        })),
      ),
      verified: opensAll && verified ? { at: verified.at, report: verified.report } : null,
      verifying: job
        ? { state: job.state, progress: job.progress, message: job.message, words: job.words }
        : null,
    };
  });

  serve(router, CONTRACT.verify, () => enqueueOnce(db, 'verify', STORE));

  serve(router, CONTRACT.stopVerify, async () => {
    const job = await newestJob(db, 'verify', STORE);
    if (!job || !(await requestStop(db, job.id))) throw new ApiError(409, msg('No verification is running.'));
  });

  serve(router, CONTRACT.clear, async ({ body: { what } }, request) => {
    const now = Date.now();
    const visitor = visitorOf(request);
    if (what !== 'bin') demandUnlimited(visitor);
    let cleared: Cleared;
    if (what === 'unused') cleared = await clearUnused(db, media, now);
    else if (what === 'bin') cleared = await emptyBin(db, media, now, visitor);
    else {
      const passing = [media.uploads, ...media.passing()];
      const sizes = await Promise.all(passing.map(measure));
      await clearPassing(parts);
      cleared = {
        files: sizes.reduce((sum, { files }) => sum + files, 0),
        bytes: sizes.reduce((sum, { bytes }) => sum + bytes, 0),
      };
    }
    await recordEvent(db, visitor, {
      what: 'cleared',
      detail: CLEARED[what],
      bytes: cleared.bytes,
    });
    return cleared;
  });

  return router;
}

/** What lies in the data folder, by kind. */
async function storedIn(
  { db, media }: HousekeepingParts,
  data: string,
): Promise<Keeping['stored'][number][]> {
  const sums = (table: 'masters' | 'pictures'): Promise<Cleared> =>
    db.one(
      (row) => ({ files: Number(row.files), bytes: Number(row.bytes) }),
      `SELECT COUNT(*) AS files, COALESCE(SUM(bytes), 0) AS bytes FROM ${table}`,
    );
  const below = (...path: string[]): Promise<Cleared> => measure(join(media.root, ...path));
  return [
    { kind: 'masters', ...(await sums('masters')) },
    { kind: 'decoded', ...(await below('decoded')) },
    { kind: 'pictures', ...(await sums('pictures')) },
    { kind: 'renders', ...(await below('deliveries')) },
    { kind: 'uploads', ...(await below('uploads')) },
    { kind: 'images', ...plus(await below('images'), await below('heard')) },
    { kind: 'database', ...(await measure(join(data, 'database'))) },
    { kind: 'backups', ...(await measure(join(data, 'backups'))) },
  ];
}

async function renderBytes({ db, media }: HousekeepingParts, albumId: string): Promise<number> {
  const ids = await db.many((row) => String(row.id), 'SELECT id FROM deliveries WHERE album_id = ?', [
    albumId,
  ]);
  const sizes = await Promise.all(ids.map((id) => measure(media.delivery(id))));
  return sizes.reduce((sum, { bytes }) => sum + bytes, 0);
}

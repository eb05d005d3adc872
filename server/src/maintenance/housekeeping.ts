import { forgetOldChanges } from '../changes/change-repository.js';
import { forgetOldIntakes } from '../masters/intake-repository.js';
import { forgetSounds } from '../sounds/sound-repository.js';
import { lstat, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { UnusedFile } from '@oiseau/api';
import type { Visitor } from '../access/visitor.js';
import { forgetOldChangesOfAlbums } from '../albums/album-repository.js';
import { openedTo, storedText } from '../albums/shelf.js';
import { clearAttempts } from '../deliveries/attempts.js';
import { markCleared } from '../deliveries/delivery-repository.js';
import type { Database, Db } from '../db/database.js';
import type { MediaStore } from '../media/media-store.js';
import type { Uploads } from '../media/uploads.js';

/** What nothing uses, and what was deleted, stays for so long. */
export const KEPT_DAYS = 30;
const DAY_MS = 24 * 3600_000;
/** A file that no row names may be on its way in: it is left alone for so long. */
const YOUNG_MS = DAY_MS;

/** What was cleared. */
export interface Cleared {
  readonly files: number;
  readonly bytes: number;
}

const NOTHING: Cleared = { files: 0, bytes: 0 };
export const plus = (a: Cleared, b: Cleared): Cleared => ({
  files: a.files + b.files,
  bytes: a.bytes + b.bytes,
});

export interface HousekeepingParts {
  readonly db: Database;
  readonly media: MediaStore;
  readonly uploads: Uploads;
}

/** What is done at every start and every hour: what is over is given up, what nothing uses is marked, and what was marked long enough goes. */
export async function keepHouse(
  { db, media, uploads }: HousekeepingParts,
  now = Date.now(),
): Promise<Cleared> {
  await uploads.sweep(now);
  await media.sweep(now);
  await emptyBin(db, media, now - KEPT_DAYS * DAY_MS);
  await forgetSounds(db, KEPT_DAYS);
  await forgetOldIntakes(db);
  await forgetOldChanges(db);
  await forgetOldChangesOfAlbums(db);
  await markUnused(db);
  const cleared = await clearUnused(db, media, now - KEPT_DAYS * DAY_MS);
  return plus(cleared, await sweepNameless(db, media, now));
}

/** Abandoned uploads and opened images, of any age. */
export async function clearPassing({ media, uploads }: HousekeepingParts): Promise<void> {
  const later = Date.now() + 2 * DAY_MS;
  await uploads.sweep(later);
  await media.sweep(later);
}

/** Masters and pictures that no album, revision or other master names, whether an album was deleted or not. */
async function markUnused(db: Database): Promise<void> {
  await db.patiently(async (patient) => {
    await mark(
      patient,
      'masters',
      `SELECT m.sha256 FROM masters m
       WHERE NOT EXISTS (SELECT 1 FROM album_masters a WHERE a.sha256 = m.sha256)
         AND NOT EXISTS (SELECT 1 FROM revisions r WHERE r.document LIKE CONCAT('%"', m.sha256, '"%'))
         AND NOT EXISTS (SELECT 1 FROM albums a WHERE a.document LIKE CONCAT('%"', m.sha256, '"%'))`,
    );
    // One look through all documents, however many pictures there are.
    const named = await patient.many(
      (row) => String(row.artwork),
      `SELECT DISTINCT JSON_VALUE(document, '$.artwork') AS artwork FROM albums WHERE JSON_VALID(document)
       UNION SELECT DISTINCT JSON_VALUE(document, '$.artwork') FROM revisions WHERE JSON_VALID(document)
       UNION SELECT DISTINCT JSON_VALUE(embedded, '$.cover') FROM masters WHERE JSON_VALID(embedded)`,
    );
    const pictures = await patient.many((row) => String(row.sha256), 'SELECT sha256 FROM pictures');
    const used = new Set(named);
    // A document that can't be read may name any picture.
    const unreadable = await patient.one(
      (row) => Number(row.count),
      'SELECT (SELECT COUNT(*) FROM albums WHERE NOT JSON_VALID(document)) + (SELECT COUNT(*) FROM revisions WHERE NOT JSON_VALID(document)) AS count',
    );
    await setUnused(
      patient,
      'pictures',
      unreadable > 0 ? [] : pictures.filter((sha256) => !used.has(sha256)),
    );
  });
}

async function mark(db: Db, table: 'masters' | 'pictures', unused: string): Promise<void> {
  await setUnused(db, table, await db.many((row) => String(row.sha256), unused));
}

async function setUnused(db: Db, table: 'masters' | 'pictures', unused: readonly string[]): Promise<void> {
  const wanted = new Set(unused);
  const marked = await db.many(
    (row) => String(row.sha256),
    `SELECT sha256 FROM ${table} WHERE unused_since IS NOT NULL`,
  );
  for (const sha256 of marked)
    if (!wanted.has(sha256))
      await db.execute(`UPDATE ${table} SET unused_since = NULL WHERE sha256 = ?`, [sha256]);
  for (const sha256 of wanted)
    await db.execute(
      `UPDATE ${table} SET unused_since = UTC_TIMESTAMP(3) WHERE sha256 = ? AND unused_since IS NULL`,
      [sha256],
    );
}

/** What nothing uses, and when it goes. */
export async function listUnused(
  db: Database,
): Promise<(Omit<UnusedFile, 'since' | 'goesAt'> & { since: Date; goesAt: Date })[]> {
  await markUnused(db);
  const list = (kind: 'master' | 'picture', sql: string) =>
    db.many((row) => {
      const since = row.unused_since as Date;
      const goesAt = new Date(since.getTime() + KEPT_DAYS * DAY_MS);
      return { kind, name: String(row.name), bytes: Number(row.bytes), since, goesAt };
    }, sql);
  return [
    ...(await list(
      'master',
      'SELECT LEFT(sha256, 12) AS name, bytes, unused_since FROM masters WHERE unused_since IS NOT NULL ORDER BY unused_since',
    )),
    ...(await list(
      'picture',
      'SELECT name, bytes, unused_since FROM pictures WHERE unused_since IS NOT NULL ORDER BY unused_since',
    )),
  ];
}

/** Takes away what nothing has used since `before`. */
export async function clearUnused(db: Database, media: MediaStore, before: number): Promise<Cleared> {
  let cleared = NOTHING;
  for (const table of ['masters', 'pictures'] as const) {
    const gone = await db.many(
      (row) => String(row.sha256),
      `SELECT sha256 FROM ${table} WHERE unused_since <= ?`,
      [new Date(before)],
    );
    for (const sha256 of gone) {
      // A second import has cleared the mark.
      const { changed } = await db.execute(`DELETE FROM ${table} WHERE sha256 = ? AND unused_since <= ?`, [
        sha256,
        new Date(before),
      ]);
      if (changed === 0) continue;
      await db.execute("DELETE FROM jobs WHERE kind = 'measure' AND subject = ?", [sha256]);
      if (!(await isNamed(db, sha256))) cleared = plus(cleared, await remove(media.file(sha256)));
      if (table === 'masters') cleared = plus(cleared, await remove(media.decoded(sha256)));
    }
  }
  return cleared;
}

/** A file may be a master and a picture at once. */
const isNamed = async (db: Db, sha256: string): Promise<boolean> =>
  (await db.maybeOne(
    (row) => row,
    'SELECT 1 FROM masters WHERE sha256 = ? UNION SELECT 1 FROM pictures WHERE sha256 = ?',
    [sha256, sha256],
  )) !== undefined;

/** Nothing is kept from clean-up. */
const EVERYONE = { keyId: '', opensAll: true };

/** An album that was deleted. */
export interface Binned {
  readonly id: string;
  readonly title: string;
  readonly deletedAt: Date;
}

/** Deleted albums that a key opens, those deleted last first. */
export async function binned(db: Database, visitor: Pick<Visitor, 'keyId' | 'opensAll'>): Promise<Binned[]> {
  const { where, values } = openedTo(visitor);
  return db.many(
    (row) => ({ id: String(row.id), title: String(row.title), deletedAt: row.deleted_at as Date }),
    `SELECT a.id, ${storedText('title')}, a.deleted_at FROM albums a WHERE a.deleted_at IS NOT NULL${where} ORDER BY a.deleted_at DESC, a.id`,
    values,
  );
}

export const goesAt = ({ deletedAt }: Binned): Date => new Date(deletedAt.getTime() + KEPT_DAYS * DAY_MS);

/** Albums that were deleted before a moment go for good, with their revisions, renders and notes; their masters are unused from then on. */
export async function emptyBin(
  db: Database,
  media: MediaStore,
  before: number,
  visitor: Pick<Visitor, 'keyId' | 'opensAll'> = EVERYONE,
): Promise<Cleared> {
  let cleared = NOTHING;
  for (const { id, deletedAt } of await binned(db, visitor)) {
    if (deletedAt.getTime() > before) continue;
    const deliveries = await db.many(
      (row) => String(row.id),
      'SELECT id FROM deliveries WHERE album_id = ?',
      [id],
    );
    // The files first: what is left after a kill is taken up by the next look.
    for (const delivery of deliveries) {
      await markCleared(db, delivery);
      cleared = plus(cleared, await remove(media.delivery(delivery)));
    }
    await db.transaction(async (transaction) => {
      for (const sql of [
        'DELETE FROM listener_sessions WHERE invitation_id IN (SELECT i.id FROM invitations i JOIN deliveries d ON d.id = i.delivery_id WHERE d.album_id = ?)',
        'DELETE FROM invitations WHERE delivery_id IN (SELECT id FROM deliveries WHERE album_id = ?)',
        'DELETE FROM answers WHERE delivery_id IN (SELECT id FROM deliveries WHERE album_id = ?)',
        'DELETE FROM notes WHERE delivery_id IN (SELECT id FROM deliveries WHERE album_id = ?)',
        "DELETE FROM jobs WHERE kind IN ('handover', 'follow') AND subject IN (SELECT h.id FROM handovers h JOIN deliveries d ON d.id = h.delivery_id WHERE d.album_id = ?)",
        'DELETE FROM handovers WHERE delivery_id IN (SELECT id FROM deliveries WHERE album_id = ?)',
        "DELETE FROM jobs WHERE kind = 'render' AND subject IN (SELECT id FROM deliveries WHERE album_id = ?)",
        'DELETE FROM deliveries WHERE album_id = ?',
        'DELETE FROM revisions WHERE album_id = ?',
        'DELETE FROM album_masters WHERE album_id = ?',
        'DELETE FROM album_isrcs WHERE album_id = ?',
        'DELETE FROM sounds WHERE album_id = ?',
        'DELETE FROM key_albums WHERE album_id = ?',
        'DELETE FROM albums WHERE id = ? AND deleted_at IS NOT NULL',
      ])
        await transaction.execute(sql, [id]);
    });
  }
  return cleared;
}

/** Files that no row names: what a killed intake or render has left. */
async function sweepNameless(db: Database, media: MediaStore, now: number): Promise<Cleared> {
  let cleared = NOTHING;
  for (const folder of ['files', 'decoded']) {
    for (const start of await names(join(media.root, folder)))
      for (const name of await names(join(media.root, folder, start))) {
        const path = join(media.root, folder, start, name);
        const sha256 = /^([0-9a-f]{64})(?:\.wav)?$/.exec(name)?.[1];
        if (!(await isOld(path, now)) || (sha256 !== undefined && (await isNamed(db, sha256)))) continue;
        cleared = plus(cleared, await remove(path));
      }
  }
  for (const id of await names(join(media.root, 'deliveries')))
    cleared = plus(cleared, await sweepDelivery(db, media, id, now));
  return cleared;
}

async function sweepDelivery(db: Database, media: MediaStore, id: string, now: number): Promise<Cleared> {
  const path = join(media.root, 'deliveries', id);
  const row = await db.maybeOne(
    (found) => ({
      attempt: String(found.attempt),
      busy: ['queued', 'running'].includes(String(found.state)),
    }),
    'SELECT d.attempt, j.state FROM deliveries d JOIN jobs j ON j.id = d.job_id WHERE d.id = ?',
    [id],
  );
  if (!row) return (await isOld(path, now)) ? remove(path) : NOTHING;
  if (row.busy) return NOTHING;
  const before = await measure(path);
  await clearAttempts(media, id, row.attempt === '' ? undefined : row.attempt);
  const after = await measure(path);
  return { files: before.files - after.files, bytes: before.bytes - after.bytes };
}

const names = (folder: string): Promise<string[]> => readdir(folder).catch(() => []);

/** Whether it was neither created nor renamed for a day; the time of a change, which a second name sets as well. */
const isOld = async (path: string, now: number): Promise<boolean> => {
  const changed = (await lstat(path).catch(() => null))?.ctimeMs;
  return changed !== undefined && now - changed > YOUNG_MS;
};

async function remove(path: string): Promise<Cleared> {
  const size = await measure(path);
  await rm(path, { recursive: true, force: true });
  return size;
}

/** Files below a path, and their bytes. */
export async function measure(path: string): Promise<Cleared> {
  const found = await lstat(path).catch(() => null);
  if (!found) return NOTHING;
  if (!found.isDirectory()) return { files: 1, bytes: found.size };
  let all = NOTHING;
  for (const name of await names(path)) all = plus(all, await measure(join(path, name)));
  return all;
}

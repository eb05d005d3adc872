import type { ShelfEntry, ShelfSort } from '@oiseau/api';
import { parseIsrc } from '@oiseau/formats/disc';
import { tracksOf } from '@oiseau/album/model';
import type { Visitor } from '../access/visitor.js';
import type { Database, SqlValue } from '../db/database.js';
import type { MasterRecord } from '../masters/master-repository.js';
import { readableDocument } from './album-repository.js';

/** One album as the Shelf shows it. */
export type Listed = Omit<ShelfEntry, 'updatedAt'> & { readonly updatedAt: Date };

/** What is asked for of the Shelf. */
export interface ShelfOrder {
  /** Words of the title or the performer. */
  readonly q: string;
  readonly order: ShelfSort;
  readonly offset: number;
  readonly limit: number;
}

/** What is behind each order; what is called alike stays in one order from page to page. */
const ORDERS: Readonly<Record<ShelfSort, string>> = {
  edited: 'a.updated_at DESC, a.id',
  title: 'a.title COLLATE utf8mb4_unicode_ci, a.id',
  performer: 'a.performer COLLATE utf8mb4_unicode_ci, a.title COLLATE utf8mb4_unicode_ci, a.id',
};

/** A column of an album that was never indexed (an upgrade has just made it) is read from its document. */
export const storedText = (column: 'title' | 'performer'): string =>
  `IF(a.listed_version IS NULL, COALESCE(JSON_VALUE(a.document, '$.${column}'), ''), a.${column}) AS ${column}`;

const isTrue = (value: unknown): boolean => Number(value) === 1;

/** Albums that a key opens, in the order that was asked for. Nothing but columns is read, so that a long Shelf answers at once. */
export async function listShelf(
  db: Database,
  visitor: Visitor,
  { q, order, offset, limit }: ShelfOrder,
): Promise<{ albums: Listed[]; total: number }> {
  const { where, values } = openedTo(visitor);
  const wanted =
    q.trim() === '' ? '' : " AND CONCAT_WS(' ', a.title, a.performer) COLLATE utf8mb4_unicode_ci LIKE ?";
  const all = wanted === '' ? values : [...values, `%${q.trim().replace(/[\\%_]/g, '\\$&')}%`];
  const from = `FROM albums a WHERE a.deleted_at IS NULL${where}${wanted}`;
  const total = await db.one((row) => Number(row.count), `SELECT COUNT(*) AS count ${from}`, all);
  const albums = await db.many(
    (row): Listed => ({
      ...{ id: String(row.id), title: String(row.title), performer: String(row.performer) },
      ...{ tracks: Number(row.tracks), frames: Number(row.frames), damaged: isTrue(row.damaged) },
      artwork: row.artwork === null ? null : String(row.artwork),
      updatedAt: row.updated_at as Date,
      rendering: Number(row.rendering),
    }),
    `SELECT a.id, ${storedText('title')}, ${storedText('performer')}, a.artwork, a.tracks, a.frames, a.damaged, a.updated_at,
       (SELECT COUNT(*) FROM deliveries d JOIN jobs j ON j.id = d.job_id
        WHERE d.album_id = a.id AND j.state IN ('queued', 'running')) AS rendering ${from}
     ORDER BY ${ORDERS[order]} LIMIT ${Math.floor(limit)} OFFSET ${Math.floor(offset)}`,
    all,
  );
  return { albums, total };
}

/** ISRCs in the other albums that a key opens, each with the title of its album. */
export async function isrcsElsewhere(
  db: Database,
  visitor: Visitor,
  id: string,
): Promise<{ isrc: string; album: string }[]> {
  const { where, values } = openedTo(visitor);
  return db.many(
    (row) => ({ isrc: String(row.isrc), album: String(row.title) }),
    `SELECT i.isrc, a.title FROM album_isrcs i JOIN albums a ON a.id = i.album_id
     WHERE a.deleted_at IS NULL AND a.id <> ?${where} ORDER BY a.updated_at DESC, a.id`,
    [id, ...values],
  );
}

/** A code that was given: see `isrcRegister` of the contract. */
interface Registered {
  readonly isrc: string;
  readonly albumId: string;
  readonly album: string;
  readonly performer: string;
  readonly upc: string;
  readonly track: number;
  readonly title: string;
}

/** Every ISRC of the albums that a key opens, by code; one album at a time is read. */
export async function isrcRegister(db: Database, visitor: Visitor): Promise<Registered[]> {
  const { where, values } = openedTo(visitor);
  const ids = await db.many(
    (row) => String(row.id),
    `SELECT a.id FROM albums a WHERE a.deleted_at IS NULL${where}`,
    values,
  );
  const found: Registered[] = [];
  for (const albumId of ids) {
    const album = await db.maybeOne(
      (row) => readableDocument(String(row.document)),
      'SELECT document FROM albums WHERE id = ?',
      [albumId],
    );
    if (!album) continue;
    for (const [i, { isrc: text, title, performer }] of tracksOf(album).entries()) {
      const isrc = parseIsrc(text);
      if (!isrc) continue;
      const of = { albumId, album: album.title, upc: album.upc, performer: performer || album.performer };
      found.push({ isrc, ...of, track: i + 1, title });
    }
  }
  return found.sort((a, b) => (a.isrc < b.isrc ? -1 : a.isrc > b.isrc ? 1 : 0));
}

/** What keeps a list of albums `a` to those that a key opens. */
export function openedTo({ keyId, opensAll }: Pick<Visitor, 'keyId' | 'opensAll'>): {
  where: string;
  values: SqlValue[];
} {
  if (opensAll) return { where: '', values: [] };
  return { where: ' AND a.id IN (SELECT album_id FROM key_albums WHERE key_id = ?)', values: [keyId] };
}

/** What the core needs of masters to lay an album out, by SHA-256. */
export function factsOf(masters: readonly MasterRecord[]): Map<string, MasterRecord['info']> {
  return new Map(masters.map(({ sha256, info }) => [sha256, info]));
}

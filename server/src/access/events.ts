import { EVENT_KINDS, type EventRecord } from '@oiseau/api';
import * as z from 'zod';
import type { Db, Parse } from '../db/database.js';
import type { Visitor } from './visitor.js';

export type EventKind = EventRecord['what'];

/** Something that happened; a database's trigger holds that it is never changed or taken out. */
export interface NewEvent {
  readonly what: EventKind;
  readonly album?: string | null;
  /** A file, a deliverable, a name. */
  readonly detail?: string;
  readonly bytes?: number | null;
}

/** Events on one page. */
const PAGE = 100;
/** What is told of a thing in the list. */
const MOST_DETAIL = 500;

/** @param visitor without the id of a key: a visitor without one */
export async function recordEvent(
  db: Db,
  visitor: Pick<Visitor, 'name' | 'from'> & { readonly keyId?: string },
  { what, album = null, detail = '', bytes = null }: NewEvent,
): Promise<void> {
  const { keyId = null, name } = visitor;
  await db.execute(
    'INSERT INTO events (at, key_id, who, origin, what, album_id, detail, bytes) VALUES (UTC_TIMESTAMP(3), ?, ?, ?, ?, ?, ?, ?)',
    [keyId, name, visitor.from, what, album, detail.slice(0, MOST_DETAIL), bytes],
  );
}

type StoredEvent = Omit<EventRecord, 'at'> & { readonly at: Date };

const kind = z.enum(EVENT_KINDS);
const parse: Parse<StoredEvent> = (row) => ({
  id: Number(row.id),
  at: row.at as Date,
  who: String(row.who),
  from: String(row.origin),
  what: kind.parse(row.what),
  album: row.album_id === null ? null : { id: String(row.album_id), title: String(row.title ?? '') },
  detail: String(row.detail),
  bytes: row.bytes === null ? null : Number(row.bytes),
});

/**
 * One page of events, the newest first: all of them for a key to all albums, else those of its albums and its own.
 * @param before the last one of the page before
 */
export function listEvents(
  db: Db,
  { keyId, opensAll }: Visitor,
  {
    album,
    before = Number.MAX_SAFE_INTEGER,
    what,
  }: { album?: string; before?: number | undefined; what?: EventKind | undefined },
): Promise<StoredEvent[]> {
  const within = opensAll
    ? ''
    : '(e.key_id = ? OR e.album_id IN (SELECT album_id FROM key_albums WHERE key_id = ?)) AND';
  const where = `${within} ${album === undefined ? '' : 'e.album_id = ? AND'} ${what === undefined ? '' : 'e.what = ? AND'}`;
  const values = [...(opensAll ? [] : [keyId, keyId]), album, what].filter((value) => value !== undefined);
  return db.many(
    parse,
    `SELECT e.id, e.at, e.who, e.origin, e.what, e.album_id, e.detail, e.bytes, JSON_VALUE(a.document, '$.title') AS title
     FROM events e LEFT JOIN albums a ON a.id = e.album_id WHERE ${where} e.id < ? ORDER BY e.id DESC LIMIT ${PAGE}`,
    [...values, before],
  );
}

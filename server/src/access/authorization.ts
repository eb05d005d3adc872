import type { Door } from '@oiseau/api';
import type { Db } from '../db/database.js';
import { notFound, type Missing } from '../http/api-error.js';
import { FIRST_KEY, type Visitor } from './visitor.js';

/**
 * What a key gives access to. Anything else is answered with 404, as if it did not exist. Malformed ids are rejected and never reach the
 * database.
 */

const UUID = /^[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}$/;
const SHA256 = /^[0-9a-f]{64}$/;

const found = (db: Db, sql: string, values: readonly string[]): Promise<boolean> =>
  db.one((row) => Number(row.found) > 0, `SELECT EXISTS(${sql}) AS found`, values);

/** Whether a key opens an album. */
export function opensAlbum(db: Db, { keyId, opensAll }: Visitor, albumId: string): Promise<boolean> {
  return opensAll
    ? Promise.resolve(true)
    : found(db, 'SELECT 1 FROM key_albums WHERE key_id = ? AND album_id = ?', [keyId, albumId]);
}

/** An album that is there, on the Shelf or deleted, and that the key opens. @throws ApiError 404 */
export async function demandAlbum(db: Db, visitor: Visitor, id: string): Promise<void> {
  const there = UUID.test(id) && (await found(db, 'SELECT 1 FROM albums WHERE id = ?', [id]));
  if (!there || !(await opensAlbum(db, visitor, id))) throw notFound('album');
}

/** SQL for the album that something belongs to, by its id. */
const ALBUM_OF = {
  delivery: 'SELECT album_id FROM deliveries WHERE id = ?',
  handover: 'SELECT d.album_id FROM handovers h JOIN deliveries d ON d.id = h.delivery_id WHERE h.id = ?',
  invitation:
    'SELECT d.album_id FROM invitations i JOIN deliveries d ON d.id = i.delivery_id WHERE i.id = ? AND i.taken_back_at IS NULL',
  intake: 'SELECT album_id FROM intakes WHERE id = ?',
} as const;

/** Something of an album that the key opens. @param name what it is called in an answer @throws ApiError 404 */
async function demandOfAlbum(
  db: Db,
  visitor: Visitor,
  id: string,
  of: keyof typeof ALBUM_OF,
  name: Missing = of,
): Promise<void> {
  const album = UUID.test(id)
    ? await db.maybeOne((row) => String(row.album_id), ALBUM_OF[of], [id])
    : undefined;
  if (album === undefined || !(await opensAlbum(db, visitor, album))) throw notFound(name);
}

/** An existing note; notes of others may be changed by engineers and assistants. @throws ApiError 404 */
async function demandNote(db: Db, visitor: Visitor, id: string): Promise<void> {
  const note = UUID.test(id)
    ? await db.maybeOne(
        (row) => ({ album: String(row.album_id), key: row.key_id }),
        'SELECT d.album_id, n.key_id FROM notes n JOIN deliveries d ON d.id = n.delivery_id WHERE n.id = ?',
        [id],
      )
    : undefined;
  if (!note || !(await opensAlbum(db, visitor, note.album))) throw notFound('note');
  if (visitor.role === 'guest' && note.key !== visitor.keyId) throw notFound('note');
}

/** Revisions name their masters at whatever depth their version had. */
const REVISION_PLAYS = "JSON_CONTAINS(JSON_EXTRACT(r.document, '$**.master'), JSON_QUOTE(?))";

/** Whether a key opens a master: one of an album that it opens, of a revision of one, or one that came in with it. */
export async function opensMaster(db: Db, { keyId, opensAll }: Visitor, sha256: string): Promise<boolean> {
  return (
    SHA256.test(sha256) &&
    (opensAll
      ? found(db, 'SELECT 1 FROM masters WHERE sha256 = ?', [sha256])
      : found(
          db,
          `SELECT 1 FROM album_masters a JOIN key_albums k ON k.album_id = a.album_id WHERE k.key_id = ? AND a.sha256 = ?
           UNION ALL SELECT 1 FROM brought WHERE key_id = ? AND sha256 = ?
           UNION ALL SELECT 1 FROM revisions r JOIN key_albums k ON k.album_id = r.album_id WHERE k.key_id = ? AND ${REVISION_PLAYS}`,
          [keyId, sha256, keyId, sha256, keyId, sha256],
        ))
  );
}

/** @throws ApiError 404 */
export async function demandMaster(db: Db, visitor: Visitor, sha256: string): Promise<void> {
  if (!(await opensMaster(db, visitor, sha256))) throw notFound('master');
}

/** A picture of an album that the key opens (its cover, that of a revision or of a master), or one that came in with this key. @throws ApiError 404 */
export async function demandPicture(db: Db, { keyId, opensAll }: Visitor, sha256: string): Promise<void> {
  const there =
    SHA256.test(sha256) &&
    (opensAll
      ? await found(db, 'SELECT 1 FROM pictures WHERE sha256 = ?', [sha256])
      : await found(
          db,
          `SELECT 1 FROM albums a JOIN key_albums k ON k.album_id = a.id WHERE k.key_id = ? AND JSON_VALUE(a.document, '$.artwork') = ?
           UNION ALL SELECT 1 FROM revisions r JOIN key_albums k ON k.album_id = r.album_id WHERE k.key_id = ? AND JSON_VALUE(r.document, '$.artwork') = ?
           UNION ALL SELECT 1 FROM album_masters l JOIN masters m ON m.sha256 = l.sha256 JOIN key_albums k ON k.album_id = l.album_id
             WHERE k.key_id = ? AND JSON_VALUE(m.embedded, '$.cover') = ?
           UNION ALL SELECT 1 FROM brought WHERE key_id = ? AND sha256 = ?`,
          [keyId, sha256, keyId, sha256, keyId, sha256, keyId, sha256],
        ));
  if (!there) throw notFound('picture');
}

/** A key that was not revoked; to a key that is limited to some albums there are only itself and those that it has made. @throws ApiError 404 */
async function demandKey(db: Db, { keyId, opensAll }: Visitor, id: string): Promise<void> {
  const there =
    (id === FIRST_KEY || UUID.test(id)) &&
    (await (opensAll
      ? found(db, 'SELECT 1 FROM access_keys WHERE id = ? AND taken_back_at IS NULL', [id])
      : found(
          db,
          'SELECT 1 FROM access_keys WHERE id = ? AND taken_back_at IS NULL AND (id = ? OR made_by = ?)',
          [id, keyId, keyId],
        )));
  if (!there) throw notFound('key');
}

/** A receiver that was not taken out. @throws ApiError 404 */
async function demandReceiver(db: Db, id: string): Promise<void> {
  const there =
    UUID.test(id) && (await found(db, 'SELECT 1 FROM receivers WHERE id = ? AND removed_at IS NULL', [id]));
  if (!there) throw notFound('receiver');
}

/** What the path of a call names, by the name it has there. */
type Params = Readonly<Record<string, string | undefined>>;

/** Doors for who has a key. */
type KeyDoor = Exclude<Door, 'listener'>;

const DOORS: Readonly<Record<KeyDoor, (db: Db, visitor: Visitor, params: Params) => Promise<void>>> = {
  none: () => Promise.resolve(),
  any: () => Promise.resolve(),
  album: (db, visitor, { id = '' }) => demandAlbum(db, visitor, id),
  delivery: (db, visitor, { id = '' }) => demandOfAlbum(db, visitor, id, 'delivery'),
  note: (db, visitor, { id = '' }) => demandNote(db, visitor, id),
  master: (db, visitor, { sha256 = '' }) => demandMaster(db, visitor, sha256),
  picture: (db, visitor, { sha256 = '' }) => demandPicture(db, visitor, sha256),
  intake: (db, visitor, { id = '' }) => demandOfAlbum(db, visitor, id, 'intake', 'file'),
  key: (db, visitor, { id = '' }) => demandKey(db, visitor, id),
  receiver: (db, _visitor, { id = '' }) => demandReceiver(db, id),
  handover: (db, visitor, { id = '' }) => demandOfAlbum(db, visitor, id, 'handover'),
  invitation: (db, visitor, { id = '' }) => demandOfAlbum(db, visitor, id, 'invitation'),
};

/** Goes through the door of a call. @throws ApiError 404 for what is not there or not open */
export const enter = (db: Db, door: KeyDoor, visitor: Visitor, params: Params): Promise<void> =>
  DOORS[door](db, visitor, params);

/** Notes that a content came in with a key, so that it can be reached before an album has it. */
export async function noteBrought(
  db: Db,
  { keyId, opensAll }: Pick<Visitor, 'keyId' | 'opensAll'>,
  sha256: string,
): Promise<void> {
  if (opensAll) return;
  await db.execute(
    'INSERT INTO brought (key_id, sha256, at) VALUES (?, ?, UTC_TIMESTAMP(3)) ON DUPLICATE KEY UPDATE at = VALUES(at)',
    [keyId, sha256],
  );
}

/** Lets a key open an album that was made with it. */
export async function openTo(db: Db, { keyId, opensAll }: Visitor, albumId: string): Promise<void> {
  if (opensAll) return;
  await db.execute('INSERT INTO key_albums (key_id, album_id) VALUES (?, ?)', [keyId, albumId]);
}

import { createHash, randomBytes } from 'node:crypto';
import { role, type KeyRecord } from '@oiseau/api';
import type { Database, Db, Parse } from '../db/database.js';
import { FIRST_KEY, type Visitor } from './visitor.js';

/** How long a session lasts after its key was last traded for one. */
const SESSION_DAYS = 30;
/** A key was seen, to so many seconds. */
export const SEEN_EVERY_S = 60;

type Holder = Omit<Visitor, 'from'>;

const parseHolder: Parse<Holder> = (row) => ({
  keyId: String(row.id),
  name: String(row.name),
  role: role.parse(row.role),
  opensAll: Boolean(row.opens_all),
});
const HOLDER = 'k.id, k.name, k.role, k.opens_all';

/** Keys and sessions are 256 random bits: their SHA-256 can be kept instead of them, and found by an index. */
export const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');
export const newSecret = (): string => randomBytes(32).toString('base64url');

/** Makes the first key what its file says. Another one than before ends the sessions that the old one was traded for. */
export async function keepFirstKey(db: Database, key: string): Promise<void> {
  const hash = hashOf(key);
  await db.transaction(async (transaction) => {
    await transaction.execute(
      `DELETE FROM sessions WHERE key_id = ? AND NOT EXISTS (SELECT 1 FROM access_keys WHERE id = ? AND hash = ?)`,
      [FIRST_KEY, FIRST_KEY, hash],
    );
    await transaction.execute(
      `INSERT INTO access_keys (id, hash, name, role, opens_all, created_at) VALUES (?, ?, '', 'engineer', TRUE, UTC_TIMESTAMP(3))
       ON DUPLICATE KEY UPDATE hash = VALUES(hash)`,
      [FIRST_KEY, hash],
    );
  });
}

export async function holderOfKey(db: Db, key: string): Promise<Holder | undefined> {
  const hash = hashOf(key);
  const holder = await db.maybeOne(
    parseHolder,
    `SELECT ${HOLDER} FROM access_keys k WHERE k.hash = ? AND k.taken_back_at IS NULL`,
    [hash],
  );
  if (holder)
    await db.execute(
      `UPDATE access_keys SET seen_at = UTC_TIMESTAMP(3) WHERE id = ? AND (seen_at IS NULL OR seen_at < UTC_TIMESTAMP(3) - INTERVAL ${SEEN_EVERY_S} SECOND)`,
      [holder.keyId],
    );
  return holder;
}

export function holderOfSession(db: Db, token: string): Promise<Holder | undefined> {
  return db.maybeOne(
    parseHolder,
    `SELECT ${HOLDER} FROM sessions s JOIN access_keys k ON k.id = s.key_id
     WHERE s.hash = ? AND s.ends_at > UTC_TIMESTAMP(3) AND k.taken_back_at IS NULL`,
    [hashOf(token)],
  );
}

/** Begins a session, and forgets those that have ended. @returns its token and its last moment */
export async function beginSession(db: Db, keyId: string): Promise<{ token: string; days: number }> {
  const token = newSecret();
  await db.execute('DELETE FROM sessions WHERE ends_at <= UTC_TIMESTAMP(3)');
  await db.execute(
    `INSERT INTO sessions (hash, key_id, created_at, ends_at) VALUES (?, ?, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3) + INTERVAL ${SESSION_DAYS} DAY)`,
    [hashOf(token), keyId],
  );
  return { token, days: SESSION_DAYS };
}

export async function endSession(db: Db, token: string): Promise<void> {
  await db.execute('DELETE FROM sessions WHERE hash = ?', [hashOf(token)]);
}

/** Whether other keys than the first have been handed out. */
export function isShared(db: Db): Promise<boolean> {
  return db.one(
    (row) => Number(row.shared) > 0,
    'SELECT EXISTS(SELECT 1 FROM access_keys WHERE id <> ? AND taken_back_at IS NULL) AS shared',
    [FIRST_KEY],
  );
}

type StoredKey = Omit<KeyRecord, 'createdAt' | 'seenAt'> & {
  readonly createdAt: Date;
  readonly seenAt: Date | null;
};

/** The first key first, the others by name; for a key that is limited to some albums itself and those that it has made. */
export async function listKeys(db: Db, visitor: Visitor): Promise<StoredKey[]> {
  const [own, values] = visitor.opensAll
    ? ['', []]
    : ['AND (k.id = ? OR k.made_by = ?)', [visitor.keyId, visitor.keyId]];
  const opened = await db.many(
    (row) => ({ key: String(row.key_id), album: String(row.album_id) }),
    'SELECT key_id, album_id FROM key_albums',
  );
  return db.many(
    (row) => {
      const { keyId, name, role: of, opensAll } = parseHolder(row);
      return {
        ...{ id: keyId, name, role: of },
        albums: opensAll ? null : opened.filter(({ key }) => key === keyId).map(({ album }) => album),
        createdAt: row.created_at as Date,
        seenAt: row.seen_at as Date | null,
      };
    },
    `SELECT ${HOLDER}, k.created_at, k.seen_at FROM access_keys k WHERE k.taken_back_at IS NULL ${own} ORDER BY k.id <> ?, k.name, k.created_at`,
    [...values, FIRST_KEY],
  );
}

/** @param albums ids; null: the key opens all @param madeBy the key with which it was made */
export async function insertKey(
  db: Database,
  { id, name, role: of, albums }: Pick<KeyRecord, 'id' | 'name' | 'role' | 'albums'>,
  key: string,
  madeBy: string,
): Promise<void> {
  await db.transaction(async (transaction) => {
    await transaction.execute(
      'INSERT INTO access_keys (id, hash, name, role, opens_all, made_by, created_at) VALUES (?, ?, ?, ?, ?, ?, UTC_TIMESTAMP(3))',
      [id, hashOf(key), name, of, albums === null, madeBy],
    );
    for (const album of new Set(albums ?? []))
      await transaction.execute('INSERT INTO key_albums (key_id, album_id) VALUES (?, ?)', [id, album]);
  });
}

export async function renameKey(db: Db, id: string, name: string): Promise<void> {
  await db.execute('UPDATE access_keys SET name = ? WHERE id = ?', [name, id]);
}

/**
 * Revokes a key: its sessions end, its uploads being decoded and its renders stop; who did what with it stays on record.
 * @returns its name
 */
export function takeBackKey(db: Database, id: string): Promise<string | undefined> {
  return db.transaction(async (transaction) => {
    const name = await transaction.maybeOne(
      (row) => String(row.name),
      'SELECT name FROM access_keys WHERE id = ? AND taken_back_at IS NULL FOR UPDATE',
      [id],
    );
    if (name === undefined) return undefined;
    await transaction.execute('UPDATE access_keys SET taken_back_at = UTC_TIMESTAMP(3) WHERE id = ?', [id]);
    await transaction.execute('DELETE FROM sessions WHERE key_id = ?', [id]);
    for (const [change, state] of [
      ["j.state = 'stopped', j.finished_at = UTC_TIMESTAMP(3)", 'queued'],
      ['j.stop_requested = TRUE', 'running'],
    ])
      for (const table of ['deliveries', 'intakes'])
        await transaction.execute(
          `UPDATE jobs j JOIN ${table} t ON t.job_id = j.id SET ${change} WHERE t.key_id = ? AND j.state = ?`,
          [id, state ?? ''],
        );
    return name;
  });
}

/** Makes everyone else who counts what a key has under way wait until the transaction has ended. */
export async function lockKey(db: Db, id: string): Promise<void> {
  await db.maybeOne((row) => row.id, 'SELECT id FROM access_keys WHERE id = ? FOR UPDATE', [id]);
}

import { receiverKind, type ReceiverRecord } from '@oiseau/api';
import type { Db, Parse } from '../db/database.js';

const parse: Parse<ReceiverRecord> = (row) => ({
  id: String(row.id),
  kind: receiverKind.parse(row.kind),
  name: String(row.name),
  url: String(row.url),
  standIn: Boolean(row.stand_in),
});

const COLUMNS = 'id, kind, name, url, stand_in';

/** Those that were not taken out, by kind and name. */
export const allReceivers = (db: Db): Promise<ReceiverRecord[]> =>
  db.many(parse, `SELECT ${COLUMNS} FROM receivers WHERE removed_at IS NULL ORDER BY kind, name, id`);

export const findReceiver = (db: Db, id: string): Promise<ReceiverRecord | undefined> =>
  db.maybeOne(parse, `SELECT ${COLUMNS} FROM receivers WHERE id = ? AND removed_at IS NULL`, [id]);

/** The token of a recipient: sent in calls to it, never shown. */
export const tokenOf = (db: Db, id: string): Promise<string> =>
  db.one((row) => String(row.token), 'SELECT token FROM receivers WHERE id = ?', [id]);

export async function insertReceiver(
  db: Db,
  { id, kind, name, url, standIn }: ReceiverRecord,
  token: string,
): Promise<void> {
  await db.execute(
    'INSERT INTO receivers (id, kind, name, url, token, stand_in, created_at) VALUES (?, ?, ?, ?, ?, ?, UTC_TIMESTAMP(3))',
    [id, kind, name, url, token, standIn],
  );
}

export async function writeReceiver(
  db: Db,
  id: string,
  { name, url, token }: { readonly name: string; readonly url: string; readonly token?: string | undefined },
): Promise<void> {
  await db.execute('UPDATE receivers SET name = ?, url = ?, token = COALESCE(?, token) WHERE id = ?', [
    name,
    url,
    token ?? null,
    id,
  ]);
}

export async function removeReceiver(db: Db, id: string): Promise<void> {
  await db.execute("UPDATE receivers SET removed_at = UTC_TIMESTAMP(3), token = '' WHERE id = ?", [id]);
}

import type { InvitationRecord } from '@oiseau/api';
import type { Database, Db, Parse } from '../db/database.js';
import { hashOf, newSecret, SEEN_EVERY_S } from './key-repository.js';
import type { Listener } from './listener.js';

/** Who may listen to one delivery: see `InvitationRecord`. */
export type Invitation = Omit<
  InvitationRecord,
  'createdAt' | 'endsAt' | 'takenBackAt' | 'openedAt' | 'seenAt' | 'deliverable'
> &
  Readonly<Record<'createdAt' | 'endsAt', Date>> &
  Readonly<Record<'takenBackAt' | 'openedAt' | 'seenAt', Date | null>>;

const parse: Parse<Invitation> = (row) => ({
  id: String(row.id),
  deliveryId: String(row.delivery_id),
  revision: Number(row.revision),
  name: String(row.name),
  listener: String(row.listener_id),
  hasPassword: row.password !== null,
  createdAt: row.created_at as Date,
  askedBy: String(row.asked_by),
  endsAt: row.ends_at as Date,
  takenBackAt: row.taken_back_at as Date | null,
  openedAt: row.opened_at as Date | null,
  seenAt: row.seen_at as Date | null,
});

/** The newest first. */
export const invitationsOfAlbum = (db: Db, albumId: string): Promise<Invitation[]> =>
  db.many(
    parse,
    'SELECT i.*, d.revision FROM invitations i JOIN deliveries d ON d.id = i.delivery_id WHERE d.album_id = ? ORDER BY i.created_at DESC, i.id',
    [albumId],
  );

/** @param password as `hashOfPassword` gives it */
export async function insertInvitation(
  db: Db,
  {
    id,
    deliveryId,
    listener,
    name,
    endsAt,
    askedBy,
  }: Pick<Invitation, 'id' | 'deliveryId' | 'listener' | 'name' | 'endsAt' | 'askedBy'>,
  secret: string,
  password: string | null,
): Promise<void> {
  await db.execute(
    `INSERT INTO invitations (id, delivery_id, hash, listener_id, name, password, asked_by, created_at, ends_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, UTC_TIMESTAMP(3), ?)`,
    [id, deliveryId, hashOf(secret), listener, name, password, askedBy, endsAt],
  );
}

/** The address opens nothing from now on, and who has come by it is out; what was noted and answered stays. @returns whose it was, if it was open */
export const takeInvitationBack = (
  db: Database,
  id: string,
): Promise<{ readonly name: string; readonly albumId: string } | undefined> =>
  db.transaction(async (transaction) => {
    await transaction.execute('DELETE FROM listener_sessions WHERE invitation_id = ?', [id]);
    const { changed } = await transaction.execute(
      'UPDATE invitations SET taken_back_at = UTC_TIMESTAMP(3) WHERE id = ? AND taken_back_at IS NULL',
      [id],
    );
    if (changed === 0) return undefined;
    return transaction.maybeOne(
      (row) => ({ name: String(row.name), albumId: String(row.album_id) }),
      'SELECT i.name, d.album_id FROM invitations i JOIN deliveries d ON d.id = i.delivery_id WHERE i.id = ?',
      [id],
    );
  });

/** What an address leads to, whether it is still open or not. */
export interface Asked {
  readonly listener: Omit<Listener, 'from'>;
  readonly password: string | null;
  readonly hasEnded: boolean;
}

/** An invitation whose delivery is on the Shelf. */
const THERE =
  'JOIN deliveries d ON d.id = i.delivery_id JOIN albums a ON a.id = d.album_id WHERE i.taken_back_at IS NULL AND a.deleted_at IS NULL';

const parseListener: Parse<Omit<Listener, 'from'>> = (row) => ({
  invitationId: String(row.id),
  listenerId: String(row.listener_id),
  deliveryId: String(row.delivery_id),
  albumId: String(row.album_id),
  name: String(row.name),
  endsAt: row.ends_at as Date,
});
const LISTENER = 'i.id, i.listener_id, i.delivery_id, d.album_id, i.name, i.ends_at';

export const invitationWithSecret = (db: Db, id: string, secret: string): Promise<Asked | undefined> =>
  db.maybeOne(
    (row) => ({
      listener: parseListener(row),
      password: row.password === null ? null : String(row.password),
      hasEnded: Number(row.ended) > 0,
    }),
    `SELECT ${LISTENER}, i.password, i.ends_at <= UTC_TIMESTAMP(3) AS ended FROM invitations i ${THERE} AND i.id = ? AND i.hash = ?`,
    [id, hashOf(secret)],
  );

export async function listenerOfSession(
  db: Db,
  id: string,
  token: string,
): Promise<Omit<Listener, 'from'> | undefined> {
  const listener = await db.maybeOne(
    parseListener,
    `SELECT ${LISTENER} FROM invitations i JOIN listener_sessions s ON s.invitation_id = i.id ${THERE}
     AND i.id = ? AND s.hash = ? AND i.ends_at > UTC_TIMESTAMP(3)`,
    [id, hashOf(token)],
  );
  if (listener)
    await db.execute(
      `UPDATE invitations SET seen_at = UTC_TIMESTAMP(3) WHERE id = ? AND (seen_at IS NULL OR seen_at < UTC_TIMESTAMP(3) - INTERVAL ${SEEN_EVERY_S} SECOND)`,
      [id],
    );
  return listener;
}

/** Begins a session of a listener, as long as the invitation is open. @returns its token, and whether the address was opened for the first time */
export async function beginListening(db: Db, id: string): Promise<{ token: string; first: boolean }> {
  const token = newSecret();
  await db.execute(
    'DELETE s FROM listener_sessions s JOIN invitations i ON i.id = s.invitation_id WHERE i.ends_at <= UTC_TIMESTAMP(3)',
  );
  await db.execute(
    'INSERT INTO listener_sessions (hash, invitation_id, created_at) VALUES (?, ?, UTC_TIMESTAMP(3))',
    [hashOf(token), id],
  );
  const { changed } = await db.execute(
    'UPDATE invitations SET opened_at = UTC_TIMESTAMP(3) WHERE id = ? AND opened_at IS NULL',
    [id],
  );
  return { token, first: changed > 0 };
}

/** Makes everyone else who counts what came by an invitation wait until the transaction has ended. */
export async function lockInvitation(db: Db, id: string): Promise<void> {
  await db.maybeOne((row) => row.id, 'SELECT id FROM invitations WHERE id = ? FOR UPDATE', [id]);
}

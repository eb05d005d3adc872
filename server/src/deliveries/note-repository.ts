import type { ListenerNote, NoteRecord } from '@oiseau/api';
import type { Db, Parse } from '../db/database.js';
import type { Delivery } from './delivery-repository.js';

/** A note on a rendered file. */
type Note = Omit<NoteRecord, 'createdAt' | 'metAt'> & {
  readonly createdAt: Date;
  readonly metAt: Date | null;
};

const COLUMNS = 'n.id, n.path, n.seconds, n.text, n.author, n.created_at, n.met_at, n.key_id';

const parse: Parse<Note> = (row) => ({
  id: String(row.id),
  path: String(row.path),
  seconds: Number(row.seconds),
  text: String(row.text),
  author: String(row.author),
  createdAt: row.created_at as Date,
  fromListener: row.key_id === null,
  metAt: row.met_at as Date | null,
});

/** By file and time. */
export const notesOn = (db: Db, deliveryId: string): Promise<Note[]> =>
  db.many(parse, `SELECT ${COLUMNS} FROM notes n WHERE n.delivery_id = ? ORDER BY n.path, n.seconds, n.id`, [
    deliveryId,
  ]);

export const findNote = (db: Db, id: string): Promise<Note | undefined> =>
  db.maybeOne(parse, `SELECT ${COLUMNS} FROM notes n WHERE n.id = ?`, [id]);

/** Who writes a note: the holder of a key, or a listener without one, by an invitation or a response file. */
export type Writer = { readonly keyId: string } | { readonly invitationId: string | null };

export async function insertNote(
  db: Db,
  deliveryId: string,
  writer: Writer,
  { id, path, seconds, text, author }: Pick<Note, 'id' | 'path' | 'seconds' | 'text' | 'author'>,
): Promise<void> {
  const [keyId, invitationId] = 'keyId' in writer ? [writer.keyId, null] : [null, writer.invitationId];
  await db.execute(
    'INSERT INTO notes (id, delivery_id, key_id, invitation_id, author, path, seconds, text, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, UTC_TIMESTAMP(3))',
    [id, deliveryId, keyId, invitationId, author, path, seconds, text],
  );
}

export async function writeNote(db: Db, id: string, text: string): Promise<void> {
  await db.execute('UPDATE notes SET text = ? WHERE id = ?', [text, id]);
}

export async function deleteNote(db: Db, id: string): Promise<void> {
  await db.execute('DELETE FROM notes WHERE id = ?', [id]);
}

export async function tickNote(db: Db, id: string, met: boolean): Promise<void> {
  await db.execute(`UPDATE notes SET met_at = ${met ? 'UTC_TIMESTAMP(3)' : 'NULL'} WHERE id = ?`, [id]);
}

/** What was written by an invitation, by file and time. */
export const notesOfInvitation = (db: Db, invitationId: string): Promise<ListenerNote[]> =>
  db.many(
    (row) => {
      const { id, path, seconds, text } = parse(row);
      return { id, path, seconds, text };
    },
    `SELECT ${COLUMNS} FROM notes n WHERE n.invitation_id = ? ORDER BY n.path, n.seconds, n.id`,
    [invitationId],
  );

/** A note by its id, if it was written by this invitation. */
export const noteOfInvitation = async (db: Db, invitationId: string, id: string): Promise<boolean> =>
  db.one(
    (row) => Number(row.found) > 0,
    'SELECT EXISTS(SELECT 1 FROM notes WHERE id = ? AND invitation_id = ?) AS found',
    [id, invitationId],
  );

/** A note on another delivery than the one in hand. */
export interface EarlierNote extends Note {
  readonly deliveryId: string;
  readonly revision: number;
}

/** What a listener has noted on other deliveries of the same album, up to its revision. */
export const earlierNotes = (
  db: Db,
  listenerId: string,
  { id, albumId, revision }: Pick<Delivery, 'id' | 'albumId' | 'revision'>,
): Promise<EarlierNote[]> =>
  db.many(
    (row) => ({ ...parse(row), deliveryId: String(row.delivery_id), revision: Number(row.revision) }),
    `SELECT ${COLUMNS}, n.delivery_id, d.revision FROM notes n JOIN invitations i ON i.id = n.invitation_id
     JOIN deliveries d ON d.id = n.delivery_id
     WHERE i.listener_id = ? AND d.album_id = ? AND d.id <> ? AND d.revision <= ? ORDER BY n.path, n.seconds, n.id`,
    [listenerId, albumId, id, revision],
  );

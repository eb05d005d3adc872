import type { NoteRecord } from '@oiseau/api';
import type { Db, Parse } from '../db/database.js';

/** What somebody noted while listening to a rendered file. */
type Note = Omit<NoteRecord, 'createdAt'> & { readonly createdAt: Date };

const parse: Parse<Note> = (row) => ({
  id: String(row.id),
  path: String(row.path),
  seconds: Number(row.seconds),
  text: String(row.text),
  author: String(row.author),
  createdAt: row.created_at as Date,
});

/** By file and time. */
export const notesOn = (db: Db, deliveryId: string): Promise<Note[]> =>
  db.many(
    parse,
    'SELECT id, path, seconds, text, author, created_at FROM notes WHERE delivery_id = ? ORDER BY path, seconds',
    [deliveryId],
  );

export async function insertNote(
  db: Db,
  deliveryId: string,
  keyId: string,
  { id, path, seconds, text, author }: Omit<Note, 'createdAt'>,
): Promise<void> {
  await db.execute(
    'INSERT INTO notes (id, delivery_id, key_id, author, path, seconds, text, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, UTC_TIMESTAMP(3))',
    [id, deliveryId, keyId, author, path, seconds, text],
  );
}

export async function writeNote(db: Db, id: string, text: string): Promise<void> {
  await db.execute('UPDATE notes SET text = ? WHERE id = ?', [text, id]);
}

export async function deleteNote(db: Db, id: string): Promise<void> {
  await db.execute('DELETE FROM notes WHERE id = ?', [id]);
}

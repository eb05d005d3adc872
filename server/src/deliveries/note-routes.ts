import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { z } from 'zod';
import type { Database, Parse } from '../db/database.js';
import { notFound } from '../http/api-error.js';
import { findDelivery } from './delivery-repository.js';

/** What somebody noted while listening to a rendered file. */
interface Note {
  readonly id: string;
  /** The file. */
  readonly path: string;
  /** From its start. */
  readonly seconds: number;
  readonly text: string;
  readonly createdAt: Date;
}

const parse: Parse<Note> = (row) => ({
  id: String(row.id),
  path: String(row.path),
  seconds: Number(row.seconds),
  text: String(row.text),
  createdAt: row.created_at as Date,
});

const text = z.string().max(4000);
const newNote = z.strictObject({ path: z.string().min(1).max(500), seconds: z.number().min(0), text });

export function noteRoutes(db: Database): Router {
  const router = Router();

  router.get('/deliveries/:id/notes', async (request, response) => {
    response.json(
      await db.many(
        parse,
        'SELECT id, path, seconds, text, created_at FROM notes WHERE delivery_id = ? ORDER BY path, seconds',
        [request.params.id],
      ),
    );
  });

  router.post('/deliveries/:id/notes', async (request, response) => {
    const note = newNote.parse(request.body);
    if (!(await findDelivery(db, request.params.id))) throw notFound('delivery');
    const id = randomUUID();
    await db.execute(
      'INSERT INTO notes (id, delivery_id, path, seconds, text, created_at) VALUES (?, ?, ?, ?, ?, UTC_TIMESTAMP(3))',
      [id, request.params.id, note.path, note.seconds, note.text],
    );
    response.status(201).json({ id, ...note });
  });

  router.put('/notes/:id', async (request, response) => {
    const change = z.strictObject({ text }).parse(request.body);
    await db.execute('UPDATE notes SET text = ? WHERE id = ?', [change.text, request.params.id]);
    response.status(204).end();
  });

  router.delete('/notes/:id', async (request, response) => {
    await db.execute('DELETE FROM notes WHERE id = ?', [request.params.id]);
    response.status(204).end();
  });

  return router;
}

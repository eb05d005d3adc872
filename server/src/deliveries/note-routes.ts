import { randomUUID } from 'node:crypto';
import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import type { Database } from '../db/database.js';
import { serve } from '../http/serve.js';
import { deleteNote, insertNote, notesOn, writeNote } from './note-repository.js';
import { demandDelivery } from './rendered.js';

export function noteRoutes(db: Database): Router {
  const router = Router();
  serve(router, CONTRACT.notes, ({ params }) => notesOn(db, params.id));
  serve(router, CONTRACT.addNote, async ({ params, body }) => {
    const delivery = await demandDelivery(db, params.id);
    const note = { id: randomUUID(), ...body };
    await insertNote(db, delivery.id, note);
    return note;
  });
  serve(router, CONTRACT.writeNote, ({ params, body }) => writeNote(db, params.id, body.text));
  serve(router, CONTRACT.removeNote, ({ params }) => deleteNote(db, params.id));
  return router;
}

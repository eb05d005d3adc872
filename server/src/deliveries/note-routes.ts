import { randomUUID } from 'node:crypto';
import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import { visitorOf } from '../access/entrance.js';
import type { Database } from '../db/database.js';
import { serve } from '../access/serve.js';
import { deleteNote, insertNote, notesOn, writeNote } from './note-repository.js';
import { deliveryThere } from './rendered.js';

export function noteRoutes(db: Database): Router {
  const router = Router();
  serve(router, CONTRACT.notes, ({ params }) => notesOn(db, params.id));
  serve(router, CONTRACT.addNote, async ({ params, body }, request) => {
    const { keyId, name } = visitorOf(request);
    const delivery = await deliveryThere(db, params.id);
    const note = { id: randomUUID(), author: name, ...body };
    await insertNote(db, delivery.id, keyId, note);
    return note;
  });
  serve(router, CONTRACT.writeNote, ({ params, body }) => writeNote(db, params.id, body.text));
  serve(router, CONTRACT.removeNote, ({ params }) => deleteNote(db, params.id));
  return router;
}

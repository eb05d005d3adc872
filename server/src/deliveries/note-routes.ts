import { msg } from '@oiseau/messages';
import { randomUUID } from 'node:crypto';
import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import { visitorOf } from '../access/authentication.js';
import type { Database } from '../db/database.js';
import { serve } from '../access/serve.js';
import { ApiError } from '../http/api-error.js';
import { deleteNote, findNote, insertNote, notesOn, tickNote, writeNote } from './note-repository.js';
import { deliveryThere } from './rendered.js';

export function noteRoutes(db: Database): Router {
  const router = Router();
  serve(router, CONTRACT.notes, ({ params }) => notesOn(db, params.id));
  serve(router, CONTRACT.addNote, async ({ params, body }, request) => {
    const { keyId, name } = visitorOf(request);
    const delivery = await deliveryThere(db, params.id);
    const note = { id: randomUUID(), author: name, ...body };
    await insertNote(db, delivery.id, { keyId }, note);
    return note;
  });
  // Another listener's notes can't be changed, only ticked off.
  const demandOurs = async (id: string): Promise<void> => {
    const note = await findNote(db, id);
    if (note?.fromListener)
      throw new ApiError(
        409,
        msg('{author}’s notes can’t be edited. Mark them as done instead.', { author: note.author }),
      );
  };
  serve(router, CONTRACT.writeNote, async ({ params, body }) => {
    await demandOurs(params.id);
    await writeNote(db, params.id, body.text);
  });
  serve(router, CONTRACT.tickNote, ({ params, body }) => tickNote(db, params.id, body.met));
  serve(router, CONTRACT.removeNote, async ({ params }) => {
    await demandOurs(params.id);
    await deleteNote(db, params.id);
  });
  return router;
}

import { msg } from '@oiseau/messages';
import { randomUUID } from 'node:crypto';
import { CONTRACT } from '@oiseau/api';
import { Router, type Request } from 'express';
import { listenerOf } from '../access/authentication.js';
import { recordEvent } from '../access/events.js';
import { lockInvitation } from '../access/invitation-repository.js';
import { serve } from '../access/serve.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import type { MediaStore } from '../media/media-store.js';
import { answersOfInvitation, insertAnswer } from './answer-repository.js';
import { deleteNote, insertNote, noteOfInvitation, notesOfInvitation, writeNote } from './note-repository.js';
import { demandRendered, type Rendered } from './rendered.js';

/** Limits for one invitation. */
const MOST_NOTES = 1000;
const MOST_ANSWERS = 100;

/** Notes and answers of a listener. Each call is about the delivery of the invitation, whatever it names. */
export function listenerFeedbackRoutes(db: Database, media: MediaStore): Router {
  const router = Router();
  const renderedFor = (request: Request): Promise<Rendered> =>
    demandRendered(db, media, listenerOf(request).deliveryId);

  serve(router, CONTRACT.listenerSaid, async (_given, request) => {
    const { invitationId } = listenerOf(request);
    return {
      notes: await notesOfInvitation(db, invitationId),
      answers: await answersOfInvitation(db, invitationId),
    };
  });

  serve(router, CONTRACT.addListenerNote, async ({ body }, request) => {
    const { invitationId, name } = listenerOf(request);
    const { delivery } = await renderedFor(request);
    const file = delivery.proof?.files.find(({ path }) => path === body.path);
    if (!file?.frames || !file.rate) throw notFound('file');
    if (body.seconds > file.frames / file.rate)
      throw new ApiError(422, msg('The note is after the end of the file.'));
    const note = { id: randomUUID(), ...body };
    await db.transaction(async (transaction) => {
      await lockInvitation(transaction, invitationId);
      if ((await notesOfInvitation(transaction, invitationId)).length >= MOST_NOTES)
        throw new ApiError(429, msg('The limit of {most} notes is reached.', { most: MOST_NOTES }));
      await insertNote(transaction, delivery.id, { invitationId }, { ...note, author: name });
    });
    return note;
  });
  const demandOwn = async (request: Request, note: string): Promise<void> => {
    if (!(await noteOfInvitation(db, listenerOf(request).invitationId, note))) throw notFound('note');
  };
  serve(router, CONTRACT.writeListenerNote, async ({ params, body }, request) => {
    await demandOwn(request, params.note);
    await writeNote(db, params.note, body.text);
  });
  serve(router, CONTRACT.removeListenerNote, async ({ params }, request) => {
    await demandOwn(request, params.note);
    await deleteNote(db, params.note);
  });

  serve(router, CONTRACT.answerAsListener, async ({ body }, request) => {
    const listener = listenerOf(request);
    const { delivery } = await renderedFor(request);
    const { invitationId, name, albumId } = listener;
    // What was heard, by content: an answer is worth that and nothing else.
    const files = (delivery.proof?.files ?? [])
      .filter(({ frames }) => frames !== null)
      .map(({ path, sha256 }) => ({ path, sha256 }));
    await db.transaction(async (transaction) => {
      await lockInvitation(transaction, invitationId);
      if ((await answersOfInvitation(transaction, invitationId)).length >= MOST_ANSWERS)
        throw new ApiError(429, msg('The limit of {most} responses is reached.', { most: MOST_ANSWERS }));
      await insertAnswer(transaction, delivery.id, { id: randomUUID(), name, ...body, files }, invitationId);
    });
    const said = body.verdict === 'approved' ? 'approved' : 'change requested';
    const detail = `revision ${delivery.revision}, ${delivery.deliverable.name}: ${said}`;
    await recordEvent(db, listener, { what: 'answered', album: albumId, detail });
    return { ...body, at: new Date() };
  });

  return router;
}

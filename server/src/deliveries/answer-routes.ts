import { msg } from '@oiseau/messages';
import { randomUUID } from 'node:crypto';
import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import { serve } from '../access/serve.js';
import type { Database } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import { answersOfAlbum, answersOn, insertAnswer } from './answer-repository.js';
import { lockDelivery } from './delivery-repository.js';
import { insertNote } from './note-repository.js';
import { deliveryThere } from './rendered.js';

/** What listeners answered. */
export function answerRoutes(db: Database): Router {
  const router = Router();
  serve(router, CONTRACT.answers, ({ params }) => answersOn(db, params.id));
  serve(router, CONTRACT.albumAnswers, ({ params }) => answersOfAlbum(db, params.id));
  serve(router, CONTRACT.takeAnswer, async ({ params, body }) => {
    const { id: deliveryId, proof } = await deliveryThere(db, params.id);
    // An answer is worth what it was given to: the very bytes, and no others of the same name.
    const stranger = body.files.find(
      ({ path, sha256 }) => !proof?.files.some((file) => file.path === path && file.sha256 === sha256),
    );
    if (stranger)
      throw new ApiError(
        409,
        msg('This response belongs to different files: “{path}” isn’t in this delivery.', {
          path: stranger.path,
        }),
      );
    const lost = body.notes.find(({ path }) => !body.files.some((file) => file.path === path));
    if (lost)
      throw new ApiError(
        422,
        msg('A note refers to “{path}”, which isn’t in this response.', { path: lost.path }),
      );
    const { name, verdict, words, files } = body;
    const answer = { id: randomUUID(), name, verdict, words, files };
    await db.transaction(async (transaction) => {
      // Two that arrive at once would each find the other missing.
      await lockDelivery(transaction, deliveryId);
      const before = await answersOn(transaction, deliveryId);
      if (before.some((each) => each.name === name && each.verdict === verdict && each.words === words))
        throw new ApiError(409, msg('This response of {name} was already imported.', { name }));
      await insertAnswer(transaction, deliveryId, answer, null);
      for (const note of body.notes)
        await insertNote(
          transaction,
          deliveryId,
          { invitationId: null },
          { id: randomUUID(), author: name, ...note },
        );
    });
    return { ...answer, at: new Date() };
  });
  return router;
}

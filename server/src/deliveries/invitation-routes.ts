import { msg } from '@oiseau/messages';
import { randomUUID } from 'node:crypto';
import { CONTRACT, LONGEST_INVITATION_DAYS } from '@oiseau/api';
import { Router } from 'express';
import { visitorOf } from '../access/authentication.js';
import { recordEvent } from '../access/events.js';
import { insertInvitation, invitationsOfAlbum, takeInvitationBack } from '../access/invitation-repository.js';
import { newSecret } from '../access/key-repository.js';
import { hashOfPassword } from '../access/password.js';
import { serve } from '../access/serve.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import type { MediaStore } from '../media/media-store.js';
import { deliveriesOfAlbum } from './delivery-repository.js';
import { demandRendered } from './rendered.js';

const DAY_MS = 86_400_000;

/** Shares deliveries for approval, and revokes links. */
export function invitationRoutes(db: Database, media: MediaStore): Router {
  const router = Router();

  serve(router, CONTRACT.invitations, async ({ params }) => {
    const names = new Map(
      (await deliveriesOfAlbum(db, params.id)).map(({ id, deliverable }) => [id, deliverable.name]),
    );
    return (await invitationsOfAlbum(db, params.id)).map((invitation) => ({
      ...invitation,
      deliverable: names.get(invitation.deliveryId) ?? '',
    }));
  });

  serve(router, CONTRACT.invite, async ({ params, body }, request) => {
    const visitor = visitorOf(request);
    const { delivery } = await demandRendered(db, media, params.id);
    const { albumId, revision, deliverable, proof } = delivery;
    if (!proof?.proved)
      throw new ApiError(
        409,
        msg('This delivery failed verification. Fix the failed files and render again.'),
      );
    if (!proof.files.some(({ frames }) => frames !== null))
      throw new ApiError(422, msg('This delivery has no audio.'));
    const endsAt = new Date(body.endsAt);
    const inDays = (endsAt.getTime() - Date.now()) / DAY_MS;
    if (!(inDays > 0 && inDays <= LONGEST_INVITATION_DAYS))
      throw new ApiError(422, msg('The end date must be in the future, within a year.'));
    const known = body.listener !== null && (await invitationsOfAlbum(db, albumId));
    if (known && !known.some(({ listener }) => listener === body.listener)) throw notFound('listener');
    const [id, secret] = [randomUUID(), newSecret()];
    const invitation = {
      ...{ id, deliveryId: delivery.id, listener: body.listener ?? randomUUID() },
      ...{ name: body.name, endsAt, askedBy: visitor.name || body.by },
    };
    const password = body.password === null ? null : await hashOfPassword(body.password);
    await insertInvitation(db, invitation, secret, password);
    const detail = `${body.name}, revision ${revision}, ${deliverable.name}`;
    await recordEvent(db, visitor, { what: 'invited', album: albumId, detail });
    return { id, secret };
  });

  serve(router, CONTRACT.takeBackInvitation, async ({ params }, request) => {
    const taken = await takeInvitationBack(db, params.id);
    if (!taken) throw notFound('invitation');
    await recordEvent(db, visitorOf(request), {
      ...{ what: 'invitation-taken-back', album: taken.albumId, detail: taken.name },
    });
  });

  return router;
}

import { Router } from 'express';
import { z } from 'zod';
import {
  acceptedReason,
  checkAlbum,
  isDisc,
  layOutAlbum,
  placeWords,
  pqSheet,
  safeFileName,
  type CheckSubject,
} from '@oiseau/core';
import { findAlbum } from '../albums/album-repository.js';
import { findRevision } from '../deliveries/delivery-repository.js';
import { factsOf, playedMasters } from '../albums/shelf.js';
import type { Database } from '../db/database.js';
import { notFound } from '../http/api-error.js';
import { mastersByKey } from '../masters/master-repository.js';
import { writePqPdf } from './pq-pdf.js';

/** Papers for people: the PQ sheet. */
export function sheetRoutes(db: Database): Router {
  const router = Router();
  router.get('/albums/:id/pq-sheet.pdf', async (request, response) => {
    // The sheet of a revision goes with what was rendered from it; without one it is the album as it stands.
    const { revision } = z.object({ revision: z.coerce.number().int().optional() }).parse(request.query);
    const album =
      revision === undefined
        ? (await findAlbum(db, request.params.id))?.album
        : await findRevision(db, request.params.id, revision);
    if (!album) throw notFound(revision === undefined ? 'album' : 'revision');
    const records = await mastersByKey(db, request.params.id, playedMasters(album));
    const masters = factsOf(records);
    const parts = layOutAlbum(album, masters);
    const disc = parts.find(isDisc);
    if (!disc) throw notFound('disc');
    const details = new Map(records.map((master) => [master.sha256, master]));
    const subject: CheckSubject = { album, masters, details, parts };
    const accepted = checkAlbum(subject).flatMap((finding) => {
      const reason = acceptedReason(subject, finding);
      return reason === null ? [] : [{ finding, place: placeWords(subject, finding), reason }];
    });
    const made = new Date().toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });
    response.attachment(`${safeFileName(album.title)} PQ sheet.pdf`).type('pdf');
    writePqPdf(pqSheet(album, disc), accepted, made, response);
  });
  return router;
}

import { Router } from 'express';
import {
  acceptedReason,
  checkAlbum,
  layOutAlbum,
  placeWords,
  pqSheet,
  safeFileName,
  type CheckSubject,
} from '@oiseau/core';
import { findAlbum } from '../albums/album-repository.js';
import { factsOf } from '../albums/shelf.js';
import type { Database } from '../db/database.js';
import { notFound } from '../http/api-error.js';
import { mastersOfAlbum } from '../masters/master-repository.js';
import { writePqPdf } from './pq-pdf.js';

/** Papers for people: the PQ sheet. */
export function sheetRoutes(db: Database): Router {
  const router = Router();
  router.get('/albums/:id/pq-sheet.pdf', async (request, response) => {
    const record = await findAlbum(db, request.params.id);
    if (!record) throw notFound('album');
    const { album } = record;
    const records = await mastersOfAlbum(db, request.params.id);
    const masters = factsOf(records);
    const placed = layOutAlbum(album, masters);
    const details = new Map(records.map((master) => [master.sha256, master]));
    const subject: CheckSubject = { album, masters, details, ...placed };
    const accepted = checkAlbum(subject).flatMap((finding) => {
      const reason = acceptedReason(subject, finding);
      return reason === null ? [] : [{ finding, place: placeWords(album, finding), reason }];
    });
    const made = new Date().toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });
    response.attachment(`${safeFileName(album.title)} PQ sheet.pdf`).type('pdf');
    writePqPdf(pqSheet(album, placed.layout), accepted, made, response);
  });
  return router;
}

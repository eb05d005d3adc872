import { CONTRACT } from '@oiseau/api';
import { acceptedReason, isDisc, layOutAlbum, placeWords, pqSheet, safeFileName } from '@oiseau/core';
import { Router } from 'express';
import { uncheckedOf } from '../albums/check-subject.js';
import { findAlbum } from '../albums/album-repository.js';
import { findRevision } from '../albums/revision-repository.js';
import type { Database } from '../db/database.js';
import { notFound } from '../http/api-error.js';
import type { Thinker } from '../http/thinker.js';
import { serve } from '../access/serve.js';
import { writePqPdf } from './pq-pdf.js';

/** Papers for people: the PQ sheet. */
export function sheetRoutes(db: Database, thinker: Thinker): Router {
  const router = Router();
  serve(router, CONTRACT.pqSheet, async ({ params: { id }, query: { revision } }, _request, response) => {
    // The sheet of a revision goes with what was rendered from it; without one it is the album as it stands.
    const album =
      revision === undefined ? (await findAlbum(db, id))?.album : await findRevision(db, id, revision);
    if (!album) throw notFound(revision === undefined ? 'album' : 'revision');
    const unchecked = await uncheckedOf(db, id, album);
    const subject = { ...unchecked, parts: layOutAlbum(album, unchecked.masters) };
    const disc = subject.parts.find(isDisc);
    if (!disc) throw notFound('disc');
    const accepted = (await thinker.check(unchecked)).flatMap((finding) => {
      const reason = acceptedReason(subject, finding);
      return reason === null ? [] : [{ finding, place: placeWords(subject, finding), reason }];
    });
    const made = new Date().toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });
    response.attachment(`${safeFileName(album.title)} PQ sheet.pdf`).type('pdf');
    writePqPdf(pqSheet(album, disc), accepted, made, response);
  });
  return router;
}

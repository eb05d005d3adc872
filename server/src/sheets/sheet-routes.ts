import { CONTRACT } from '@oiseau/api';
import {
  acceptedReason,
  isDisc,
  layOutAlbum,
  partName,
  placeWords,
  pqPaper,
  pqSheet,
  safeFileName,
  wordFinding,
} from '@oiseau/core';
import { paperPdf } from '@oiseau/host';
import { Router } from 'express';
import { uncheckedOf } from '../albums/check-subject.js';
import { findAlbum } from '../albums/album-repository.js';
import { findRevision } from '../albums/revision-repository.js';
import type { Database } from '../db/database.js';
import { notFound } from '../http/api-error.js';
import type { Thinker } from '../http/thinker.js';
import { serve } from '../access/serve.js';

/** Papers for people: the PQ sheet. */
export function sheetRoutes(db: Database, thinker: Thinker): Router {
  const router = Router();
  serve(
    router,
    CONTRACT.pqSheet,
    async ({ params: { id }, query: { revision, part } }, _request, response) => {
      // The sheet of a revision goes with what was rendered from it; without one it is the album as it stands.
      const album =
        revision === undefined ? (await findAlbum(db, id))?.album : await findRevision(db, id, revision);
      if (!album) throw notFound(revision === undefined ? 'album' : 'revision');
      const unchecked = await uncheckedOf(db, id, album);
      const subject = { ...unchecked, parts: layOutAlbum(album, unchecked.masters) };
      const discs = subject.parts.filter(isDisc);
      const disc = part === undefined ? discs[0] : discs.find(({ number }) => number === part);
      if (!disc) throw notFound('disc');
      const accepted = (await thinker.check(unchecked)).flatMap((finding) => {
        const reason = acceptedReason(subject, finding);
        return reason === null
          ? []
          : [`${placeWords(subject, finding)}: ${wordFinding(finding)} “${reason}”`];
      });
      const made = new Date().toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });
      const name = disc.of > 1 ? `${album.title} ${partName(disc)}` : album.title;
      response.attachment(`${safeFileName(name)} PQ sheet.pdf`).type('pdf');
      response.send(await paperPdf(pqPaper(pqSheet(album, disc), accepted, made)));
    },
  );
  return router;
}

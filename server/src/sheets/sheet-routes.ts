import { english, msg } from '@oiseau/messages';
import { CONTRACT } from '@oiseau/api';
import { isDisc, layOutAlbum } from '@oiseau/album/layout';
import { albumOfEdition, partName, safeFileName, type Album } from '@oiseau/album/model';
import {
  labelCopy,
  labelPaper,
  loudnessFigures,
  loudnessOrder,
  loudnessPaper,
  loudnessQuestions,
} from '@oiseau/formats/papers';
import { type Paper, pqPaper, pqSheet } from '@oiseau/formats/disc';
import { Router, type Response } from 'express';
import { acceptedOf } from './pq-sheets.js';
import { uncheckedOf } from '../albums/check-subject.js';
import { findAlbum } from '../albums/album-repository.js';
import { findRevision } from '../albums/revision-repository.js';
import type { Database } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { figuresOf } from '../sounds/sound-repository.js';
import type { ComputePool } from '../http/compute-pool.js';
import { serve } from '../access/serve.js';

/** Papers for people: the PQ sheet, the label copy, the loudness report. */
export function sheetRoutes(db: Database, pool: ComputePool): Router {
  const router = Router();
  serve(
    router,
    CONTRACT.pqSheet,
    async ({ params: { id }, query: { revision, part, language, edition } }, _request, response) => {
      // The sheet of a revision goes with what was rendered from it; without one it is the album as it stands.
      const whole =
        revision === undefined ? (await findAlbum(db, id))?.album : await findRevision(db, id, revision);
      if (!whole) throw notFound(revision === undefined ? 'album' : 'revision');
      const album = editionOf(whole, edition);
      const { masters } = await uncheckedOf(db, id, album);
      const parts = layOutAlbum(album, masters);
      const discs = parts.filter(isDisc);
      const disc = part === undefined ? discs[0] : discs.find(({ number }) => number === part);
      if (!disc) throw notFound('disc');
      const accepted = await acceptedOf(db, pool, id, album);
      const made = new Date().toLocaleDateString(language === 'en' ? 'en-GB' : language, {
        day: 'numeric',
        month: 'long',
        year: 'numeric',
      });
      const name = disc.of > 1 ? `${album.title} ${english(partName(disc))}` : album.title;
      await sendPaper(
        response,
        pool,
        `${name} PQ sheet`,
        pqPaper(pqSheet(album, disc), accepted, made, language),
      );
    },
  );
  serve(
    router,
    CONTRACT.labelCopy,
    async ({ params: { id }, query: { language, edition } }, _request, response) => {
      const { album, parts } = await laidOut(db, id, edition);
      const paper = labelPaper(labelCopy(album, parts), language);
      await sendPaper(response, pool, `${album.title} label copy`, paper);
    },
  );
  serve(
    router,
    CONTRACT.loudnessReport,
    async ({ params: { id }, query: { language, edition } }, _request, response) => {
      const { album, parts } = await laidOut(db, id, edition);
      const figures = loudnessFigures(parts, await figuresOf(db, id, loudnessQuestions(parts)));
      if (!figures) throw new ApiError(409, msg('The loudness of the album hasn’t been measured yet.'));
      await sendPaper(
        response,
        pool,
        `${album.title} loudness`,
        loudnessPaper(loudnessOrder(album, parts), figures, language),
      );
    },
  );
  return router;
}

/** An edition as an album of its own, the first where none is named. @throws ApiError 404 for an edition that the album doesn't have */
function editionOf(album: Album, name: string | undefined): Album {
  const edition = name === undefined ? album.editions[0] : album.editions.find((each) => each.name === name);
  if (!edition && name !== undefined && name !== '') throw notFound('edition');
  return edition ? albumOfEdition(album, edition) : album;
}

/** An edition of the album as it stands, laid out. @throws ApiError 404 */
async function laidOut(db: Database, id: string, edition: string | undefined) {
  const whole = (await findAlbum(db, id))?.album;
  if (!whole) throw notFound('album');
  const album = editionOf(whole, edition);
  return { album, parts: layOutAlbum(album, (await uncheckedOf(db, id, album)).masters) };
}

async function sendPaper(response: Response, pool: ComputePool, name: string, paper: Paper): Promise<void> {
  const pdf = await pool.paper(paper);
  response.attachment(`${safeFileName(name)}.pdf`).type('pdf');
  response.send(Buffer.from(pdf));
}

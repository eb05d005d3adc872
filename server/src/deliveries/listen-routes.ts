import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { Router, type Request, type Response } from 'express';
import { CONTRACT } from '@oiseau/api';
import { wavHeader } from '@oiseau/audio/pcm';
import type { Database } from '../db/database.js';
import { serve } from '../access/serve.js';
import type { MediaStore } from '../media/media-store.js';
import { sendFile } from '../http/send-file.js';
import type { ComputePool } from '../http/compute-pool.js';
import { heardOf, sendOutline } from './heard.js';
import { demandFile, demandRendered } from './rendered.js';

/** Rendered files to be heard: as they are (with a WAV head before the bare words of an image), and sample by sample for a player. */
export function listenRoutes(db: Database, media: MediaStore, pool: ComputePool): Router {
  const router = Router();
  serve(router, CONTRACT.listen, async ({ params }, request, response) => {
    const rendered = await demandRendered(db, media, params.id);
    const { name, path } = await demandFile(rendered, params.path);
    if (/\.(dat|bin)$/i.test(name)) await sendWords(request, response, path);
    else response.sendFile(name, { root: rendered.folder, dotfiles: 'allow' });
  });
  serve(router, CONTRACT.heard, async ({ params }) => {
    const { info } = await heardOf(media, await demandRendered(db, media, params.id), params.path);
    return { info };
  });
  serve(router, CONTRACT.heardAudio, async ({ params }, _request, response) => {
    const { file } = await heardOf(media, await demandRendered(db, media, params.id), params.path);
    response.type('application/octet-stream');
    sendFile(response, file);
  });
  serve(router, CONTRACT.heardOutline, async ({ params, query }, _request, response) => {
    const heard = await heardOf(media, await demandRendered(db, media, params.id), params.path);
    await sendOutline(response, media, pool, heard, query.step);
  });
  return router;
}

/** 16-bit stereo words at 44.1 kHz as a WAV file, or a range of it. */
async function sendWords(request: Request, response: Response, path: string): Promise<void> {
  const { size } = await stat(path);
  const head = Buffer.from(wavHeader('int16', 44_100, size / 4));
  const total = head.length + size;
  const ranges = request.range(total);
  if (ranges === -1) {
    response.status(416).set('Content-Range', `bytes */${total}`).end();
    return;
  }
  const [range] = Array.isArray(ranges) ? ranges : [];
  const { start, end } = range ?? { start: 0, end: total - 1 };
  response.status(range ? 206 : 200).set({
    'Content-Type': 'audio/wav',
    'Accept-Ranges': 'bytes',
    'Content-Length': String(end - start + 1),
    ...(range ? { 'Content-Range': `bytes ${start}-${end}/${total}` } : {}),
  });
  response.write(head.subarray(Math.min(start, head.length), Math.min(end + 1, head.length)));
  const from = Math.max(0, start - head.length);
  const to = end - head.length;
  if (to < from) {
    response.end();
    return;
  }
  // A listener who goes elsewhere closes the connection: that is no fault.
  await pipeline(createReadStream(path, { start: from, end: to }), response).catch((error: unknown) => {
    if (!response.destroyed) throw error;
  });
}

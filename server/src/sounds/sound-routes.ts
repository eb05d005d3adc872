import { CONTRACT, type SoundRecord } from '@oiseau/api';
import type { LineUpFigures, SideFigures, SoundFigures } from '@oiseau/core';
import { Router } from 'express';
import type { Database } from '../db/database.js';
import { againWhereLocked } from '../db/locked.js';
import { ApiError, notFound } from '../http/api-error.js';
import { IMMUTABLE } from '../http/send-file.js';
import { enqueueOnce, newestJob } from '../jobs/job-repository.js';
import { serve } from '../access/serve.js';
import { mastersByKey } from '../masters/master-repository.js';
import { keyOfSound, mastersOf, type Answer, type Asked } from './asked.js';
import { findSoundBytes, findSounds, noteAsked, type SoundRow } from './sound-repository.js';

/** What is measured of treated songs and parts. */
export function soundRoutes(db: Database): Router {
  const router = Router();

  serve(router, CONTRACT.measureSounds, async ({ params, body: { sounds } }) => {
    const found = await answers(
      params.id,
      sounds,
      (answer): answer is SoundFigures => 'measurement' in answer,
    );
    return sounds.map((sound, i): SoundRecord => ({
      ...(found[i] ?? { figures: null, job: undefined }),
      key: keyOfSound(sound),
    }));
  });

  serve(router, CONTRACT.encodersRoom, async ({ params, body: room }) => {
    const row = (await asked(params.id, [room])).get(keyOfSound(room));
    if (!row) throw notFound('sound');
    const figures = row.figures && 'ceiling' in row.figures ? row.figures : null;
    return { figures, job: figures ? undefined : await measuring(row) };
  });

  serve(router, CONTRACT.measureLineUps, ({ params, body: { questions } }) =>
    answers(params.id, questions, (answer): answer is LineUpFigures => 'found' in answer),
  );

  serve(router, CONTRACT.measureSides, ({ params, body: { questions } }) =>
    answers(params.id, questions, (answer): answer is SideFigures => 'course' in answer),
  );

  serve(router, CONTRACT.soundOutline, async ({ params }, _request, response) => {
    const bytes = await findSoundBytes(db, params.id, params.sha256, 'outline');
    if (!bytes) throw notFound('outline yet');
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream').send(bytes);
  });

  serve(router, CONTRACT.soundPowers, async ({ params }, _request, response) => {
    const bytes = await findSoundBytes(db, params.id, params.sha256, 'powers');
    if (!bytes) throw notFound('measurement yet');
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream').send(bytes);
  });

  /** Answers to questions in their order, or how far each is. */
  async function answers<A extends Answer>(
    albumId: string,
    questions: readonly Asked[],
    isAnswer: (answer: Answer) => answer is A,
  ): Promise<{ figures: A | null; job: SoundRecord['job'] }[]> {
    const byKey = await asked(albumId, questions);
    const found: { figures: A | null; job: SoundRecord['job'] }[] = [];
    // One after the other: they would be in each other's way in the queue.
    for (const question of questions) {
      const row = byKey.get(keyOfSound(question));
      if (!row) throw notFound('sound');
      const figures = row.figures && isAnswer(row.figures) ? row.figures : null;
      found.push({ figures, job: figures ? undefined : await measuring(row) });
    }
    return found;
  }

  /** Notes what is asked for, of masters that the album has; the rows by their keys. */
  async function asked(albumId: string, sounds: readonly Asked[]): Promise<ReadonlyMap<string, SoundRow>> {
    const played = new Set(sounds.flatMap(mastersOf));
    const known = await mastersByKey(db, albumId, played);
    const own = new Set(known.filter(({ name }) => name !== '').map(({ sha256 }) => sha256));
    if ([...played].some((sha256) => !own.has(sha256)))
      throw new ApiError(409, 'A sound can only be measured of masters that the album has.');
    await againWhereLocked(() => noteAsked(db, albumId, sounds));
    const rows = await findSounds(db, albumId, sounds.map(keyOfSound));
    return new Map(rows.map((row) => [row.key, row]));
  }

  /** How far the measuring of a sound is; it is begun where it was not, or was given up since nobody waited. */
  async function measuring({ id }: SoundRow): Promise<NonNullable<SoundRecord['job']>> {
    const newest = await newestJob(db, 'sound', String(id));
    if (!newest || newest.state === 'stopped' || newest.state === 'done')
      await enqueueOnce(db, 'sound', String(id));
    const job = newest?.state === 'running' || newest?.state === 'failed' ? newest : undefined;
    return {
      state: job?.state ?? 'queued',
      share: job?.progress?.share ?? 0,
      message: job?.message ?? null,
    };
  }

  return router;
}

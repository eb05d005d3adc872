import { msg } from '@oiseau/messages';
import { CONTRACT, type SoundRecord } from '@oiseau/api';
import type { LineUpFigures, RoomFigures, SideFigures, SoundFigures } from '@oiseau/album/measured';
import { Router } from 'express';
import type { Database } from '../db/database.js';
import { againWhereLocked } from '../db/locked.js';
import { ApiError, notFound } from '../http/api-error.js';
import { IMMUTABLE } from '../http/send-file.js';
import { enqueueOnce, newestJob } from '../jobs/job-repository.js';
import type { PreparedQuestion } from '../http/compute-pool.js';
import { serve, servePrepared } from '../access/serve.js';
import { masterKeysOfAlbum } from '../masters/master-repository.js';
import type { Answer } from './asked.js';
import { findAnswers, findSoundBytes, noteAsked, type KnownAnswer } from './sound-repository.js';

interface Given {
  readonly params: { readonly id: string };
  readonly body: readonly PreparedQuestion[];
}

/** What is measured of treated songs and parts. */
export function soundRoutes(db: Database): Router {
  const router = Router();

  servePrepared(router, CONTRACT.measureSounds, async ({ params, body: questions }: Given) => {
    const found = await answers(
      params.id,
      questions,
      (answer): answer is SoundFigures => 'measurement' in answer,
    );
    return questions.map(({ key }, i): SoundRecord => ({
      ...(found[i] ?? { figures: null, job: undefined }),
      key,
    }));
  });

  servePrepared(router, CONTRACT.encodersRoom, async ({ params, body: questions }: Given) => {
    const [found] = await answers(
      params.id,
      questions,
      (answer): answer is RoomFigures => 'ceiling' in answer,
    );
    if (!found) throw notFound('sound');
    return found;
  });

  servePrepared(router, CONTRACT.measureLineUps, ({ params, body }: Given) =>
    answers(params.id, body, (answer): answer is LineUpFigures => 'found' in answer),
  );

  servePrepared(router, CONTRACT.measureSides, ({ params, body }: Given) =>
    answers(params.id, body, (answer): answer is SideFigures => 'course' in answer),
  );

  serve(router, CONTRACT.soundOutline, async ({ params }, _request, response) => {
    const bytes = await findSoundBytes(db, params.id, params.sha256, 'outline');
    if (!bytes) throw notFound('waveform');
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream').send(bytes);
  });

  serve(router, CONTRACT.soundPowers, async ({ params }, _request, response) => {
    const bytes = await findSoundBytes(db, params.id, params.sha256, 'powers');
    if (!bytes) throw notFound('measurement');
    response.set('Cache-Control', IMMUTABLE).type('application/octet-stream').send(bytes);
  });

  /** Answers to questions in their order, or how far each is. */
  async function answers<A extends Answer>(
    albumId: string,
    questions: readonly PreparedQuestion[],
    isAnswer: (answer: Answer) => answer is A,
  ): Promise<{ figures: A | null; job: SoundRecord['job'] }[]> {
    const byKey = await asked(albumId, questions);
    const found: { figures: A | null; job: SoundRecord['job'] }[] = [];
    // One after the other: they would be in each other's way in the queue.
    for (const question of questions) {
      const row = byKey.get(question.key);
      if (!row) throw notFound('sound');
      const figures = row.figures && isAnswer(row.figures) ? row.figures : null;
      found.push({ figures, job: figures ? undefined : await measuring(row) });
    }
    return found;
  }

  /** Notes what is asked for, of masters that the album has; what is known of it, by key. */
  async function asked(
    albumId: string,
    questions: readonly PreparedQuestion[],
  ): Promise<ReadonlyMap<string, KnownAnswer>> {
    const own = new Set(await masterKeysOfAlbum(db, albumId));
    if (questions.some(({ masters }) => masters.some((sha256) => !own.has(sha256))))
      throw new ApiError(409, msg('Only masters of this album can be measured.'));
    await againWhereLocked(() => noteAsked(db, albumId, questions));
    const rows = await findAnswers(
      db,
      albumId,
      questions.map(({ key }) => key),
    );
    return new Map(rows.map((row) => [row.key, row]));
  }

  /** How far the measuring of a sound is; it is begun where it was not, or was abandoned. */
  async function measuring({ id }: KnownAnswer): Promise<NonNullable<SoundRecord['job']>> {
    const newest = await newestJob(db, 'sound', String(id));
    if (!newest || newest.state === 'stopped' || newest.state === 'done')
      await enqueueOnce(db, 'sound', String(id));
    const job = newest?.state === 'running' || newest?.state === 'failed' ? newest : undefined;
    return {
      state: job?.state ?? 'queued',
      share: job?.progress?.share ?? 0,
      message: job?.message ?? null,
      words: job?.words,
    };
  }

  return router;
}

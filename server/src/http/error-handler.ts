import { type Message } from '@oiseau/messages';
import type { ErrorRequestHandler } from 'express';
import type { Logger } from 'pino';
import { describeIssues } from '@oiseau/album/file';
import { Failure } from '@oiseau/audio/errors';
import { isDiskFull, systemCode } from '@oiseau/host';
import { ZodError } from 'zod';
import { isAway } from '../db/away.js';
import { damageHelp, isDamaged } from '../db/damaged.js';
import { idOf } from './request-id.js';

/** The one place where an error becomes an answer: a sentence, never a stack. */
/** @param troubleOfStore why the media store can’t be used at the moment; null: it can */
export function errorHandler(log: Logger, troubleOfStore: () => Promise<string | null>): ErrorRequestHandler {
  return async (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const { status, code, message, words, details } = await translateWith(error, troubleOfStore);
    // A fault is found again in the log by what its sentence names.
    const id = idOf(request);
    const found = status === 500 ? ` See ${id} in the log.` : '';
    if (status >= 500)
      log.error({ err: error, request: id, method: request.method, url: request.url }, 'request failed');
    else
      log.debug(
        { request: id, method: request.method, url: request.url, status, message },
        'request refused',
      );
    response.status(status).json({ error: `${message}${found}`, code, ...(words && { words }), ...details });
  };
}

/** A file that could not be read or written is told by what is wrong with the store, where something is. */
async function translateWith(
  error: unknown,
  troubleOfStore: () => Promise<string | null>,
): Promise<ReturnType<typeof translate>> {
  const isOfDisk = !(error instanceof Failure) && !isAway(error) && systemCode(error) !== undefined;
  const trouble = isOfDisk ? await troubleOfStore() : null;
  return trouble === null ? translate(error) : { status: 503, code: 'store-away', message: trouble };
}

function translate(error: unknown): {
  status: number;
  code: string;
  message: string;
  words?: Message | null;
  details?: Readonly<Record<string, unknown>>;
} {
  if (isDiskFull(error))
    return { status: 507, code: 'disk-full', message: 'The disk is full. Nothing was saved.' };
  if (isAway(error))
    return {
      status: 503,
      code: 'database-away',
      message: 'The database is unavailable. Nothing was changed. Try again shortly.',
    };
  if (isDamaged(error))
    return {
      status: 503,
      code: 'database-damaged',
      message: `A database table is damaged. Nothing was changed. ${damageHelp()}`,
    };
  if (error instanceof Failure) return error;
  if (error instanceof ZodError)
    return { status: 400, code: 'misfit', message: describeIssues(error).slice(0, 3).join(' ') };
  // body-parser's errors carry a status of their own: JSON that is none, a body that is too large.
  if (error instanceof Error && 'status' in error && typeof error.status === 'number' && error.status < 500) {
    return {
      status: error.status,
      code: 'unreadable',
      message: error.status === 413 ? 'The request is too large.' : 'The request could not be read.',
    };
  }
  return { status: 500, code: 'fault', message: 'An error occurred in the server. Nothing was changed.' };
}

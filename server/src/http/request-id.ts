import { randomBytes } from 'node:crypto';
import type { Request, RequestHandler } from 'express';

const ids = new WeakMap<Request, string>();

/** What a request is called in the log, in the sentence of its error, and in the header X-Request-Id of its answer. */
export const idOf = (request: Request): string => ids.get(request) ?? 'no name';

/** Gives each request a name of its own. */
export const nameRequests: RequestHandler = (request, response, next) => {
  const id = randomBytes(4).toString('hex');
  ids.set(request, id);
  response.set('X-Request-Id', id);
  next();
};

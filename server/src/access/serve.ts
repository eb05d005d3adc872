import type { Asked, Endpoint } from '@oiseau/api';
import express, { type Request, type RequestHandler, type Response, type Router } from 'express';
import * as z from 'zod';
import { ApiError } from '../http/api-error.js';
import { admit, poolOf } from './entrance.js';

/** An answer as a service gives it: a moment may still be a Date, which JSON writes as ISO 8601. */
type Sent<T> = unknown extends T
  ? unknown
  : T extends string
    ? T | Date
    : T extends number | boolean | null | undefined
      ? T
      : T extends readonly (infer Item)[]
        ? readonly Sent<Item>[]
        : { readonly [K in keyof T]: Sent<T[K]> };

type SentBy<E extends Endpoint> = E['answer'] extends z.ZodType ? Sent<z.input<E['answer']>> : unknown;

/** What a call was asked with, read by the contract. */
interface Given<E extends Endpoint> {
  readonly params: { readonly [Name in keyof Asked<E>['params']]: string };
  readonly query: E['query'] extends z.ZodType ? z.output<E['query']> : undefined;
  readonly body: E['body'] extends z.ZodType ? z.output<E['body']> : undefined;
}

/** The calls that handlers serve, for the test that looks for routes without a door. */
export const servedBy = new WeakMap<RequestHandler, Endpoint>();

/** A call whose body may have more bytes has it read apart. */
const HEAVY = 1_000_000;
/** A JSON body that takes longer is given up. */
const BODY_TIME_MS = 60_000;

const hasBody = ({ headers }: Request): boolean =>
  headers['transfer-encoding'] !== undefined || Number(headers['content-length'] ?? 0) > 0;

/** Reads a body as what the call says that it is. @throws ApiError 415 for another media type, 408 for one that does not come to its end */
async function readBody(
  request: Request,
  response: Response,
  { method, path, body, takesFile, most }: Endpoint,
): Promise<unknown> {
  if (!hasBody(request)) return body?.parse({});
  if (takesFile && request.is('application/octet-stream')) return {};
  if (!body || !request.is('application/json')) {
    const wanted = [
      ...(body ? ['application/json'] : []),
      ...(takesFile ? ['application/octet-stream'] : []),
    ];
    throw new ApiError(
      415,
      wanted.length > 0 ? `The body must be ${wanted.join(' or ')}.` : 'This call takes no body.',
    );
  }
  // What is large is read in another thread, so that nobody waits for it who did not send it.
  const heavy = most > HEAVY;
  const read = heavy
    ? express.text({ limit: most, type: 'application/json' })
    : express.json({ limit: most });
  await new Promise<void>((resolve, reject) => {
    const late = setTimeout(
      () => reject(new ApiError(408, 'The request did not arrive to its end in time.')),
      BODY_TIME_MS,
    );
    read(request, response, (error?: unknown) => {
      clearTimeout(late);
      if (error instanceof Error) reject(error);
      else resolve();
    });
  });
  if (!heavy) return body.parse(request.body);
  const found = await poolOf(request).body(`${method} ${path}`, String(request.body));
  if ('body' in found) return found.body;
  if ('issues' in found) throw new z.ZodError([...found.issues]);
  throw new ApiError(400, 'The request could not be read.');
}

/**
 * Serves one call of the contract: it is entered by its door, what it is asked with is read by its schemas, its answer goes out with its
 * status. A call whose answer is a file sends that itself. Where two calls share a path, one with JSON and one with a file, each takes its own.
 * @throws z.ZodError, which becomes a 400 that names the field; ApiError of the door
 */
export function serve<E extends Endpoint>(
  router: Router,
  endpoint: E,
  work: (given: Given<E>, request: Request, response: Response) => Promise<SentBy<E>> | SentBy<E>,
): void {
  const method = endpoint.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
  const handle: RequestHandler = async (request, response, next) => {
    if (endpoint.takesFile && request.is('json')) {
      next();
      return;
    }
    await admit(request, endpoint);
    const body = await readBody(request, response, endpoint);
    const given = {
      params: request.params,
      query: endpoint.query?.parse(request.query),
      body,
    } as Given<E>;
    const answer = await work(given, request, response);
    if (endpoint.file !== null) return;
    response.status(endpoint.status);
    if (endpoint.answer) response.json(answer);
    else response.end();
  };
  servedBy.set(handle, endpoint);
  router[method](endpoint.path, handle);
}

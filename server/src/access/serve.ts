import { msg } from '@oiseau/messages';
import type { Asked, Endpoint } from '@oiseau/api';
import express, { type Request, type RequestHandler, type Response, type Router } from 'express';
import * as z from 'zod';
import { ApiError, UnreadableBody } from '../http/api-error.js';
import { admit, poolOf } from './authentication.js';

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

/** An answer that was written as JSON already, in a thread. */
export class JsonText {
  constructor(readonly text: string) {}
}

type Answer<E extends Endpoint> = SentBy<E> | JsonText;
type SentBy<E extends Endpoint> = E['answer'] extends z.ZodType ? Sent<z.input<E['answer']>> : unknown;

/** What a call was asked with, read by the contract. */
interface Given<E extends Endpoint> {
  readonly params: { readonly [Name in keyof Asked<E>['params']]: string };
  readonly query: E['query'] extends z.ZodType ? z.output<E['query']> : undefined;
  readonly body: E['body'] extends z.ZodType ? z.output<E['body']> : undefined;
}

/** The calls that handlers serve, for the test that looks for routes without a door. */
export const servedBy = new WeakMap<RequestHandler, Endpoint>();

/** Longer bodies are parsed and validated in a thread, so that other requests don't wait. */
const HEAVY_CHARACTERS = 64_000;
/** A JSON body that takes longer is given up. */
const BODY_TIME_MS = 60_000;

const hasBody = ({ headers }: Request): boolean =>
  headers['transfer-encoding'] !== undefined || Number(headers['content-length'] ?? 0) > 0;

/** Reads a body as what the call says that it is. @throws ApiError 415 for another media type, 408 for one that does not come to its end */
async function readBody(
  request: Request,
  response: Response,
  { method, path, body, takesFile, most }: Endpoint,
  isPrepared: boolean,
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
      wanted.length > 0
        ? msg('The body must be {list}.', { list: wanted.join(' or ') })
        : msg('This request takes no body.'),
    );
  }
  const read = express.text({ limit: most, type: 'application/json' });
  await new Promise<void>((resolve, reject) => {
    const late = setTimeout(
      () => reject(new ApiError(408, msg('The request timed out before it was complete.'))),
      BODY_TIME_MS,
    );
    read(request, response, (error?: unknown) => {
      clearTimeout(late);
      if (error instanceof Error) reject(error);
      else resolve();
    });
  });
  const text = String(request.body);
  if (!isPrepared && text.length <= HEAVY_CHARACTERS) return body.parse(parseJson(text));
  const found = await poolOf(request).body(`${method} ${path}`, text);
  if ('body' in found) return found.body;
  if ('issues' in found) throw new z.ZodError([...found.issues]);
  throw new UnreadableBody();
}

/** @throws ApiError 400 */
function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw new UnreadableBody({ cause });
  }
}

/**
 * Serves one call of the contract: it is entered by its door, what it is asked with is read by its schemas, its answer goes out with its
 * status. A call whose answer is a file sends that itself. Where two calls share a path, one with JSON and one with a file, each takes its own.
 * @throws z.ZodError, which becomes a 400 that names the field; ApiError of the door
 */
export function serve<E extends Endpoint>(
  router: Router,
  endpoint: E,
  work: (given: Given<E>, request: Request, response: Response) => Promise<Answer<E>> | Answer<E>,
): void {
  route(router, endpoint, false, work);
}

/**
 * The same for a call whose body may be megabytes: it is read, and what the call needs of it computed, in a thread (`compute/prepare.ts`).
 * `work` gets that instead of the body.
 */
export function servePrepared<E extends Endpoint, Body>(
  router: Router,
  endpoint: E,
  work: (
    given: Omit<Given<E>, 'body'> & { readonly body: Body },
    request: Request,
    response: Response,
  ) => Promise<Answer<E>> | Answer<E>,
): void {
  route(router, endpoint, true, (given, request, response) =>
    work(given as Omit<Given<E>, 'body'> & { readonly body: Body }, request, response),
  );
}

function route<E extends Endpoint>(
  router: Router,
  endpoint: E,
  isPrepared: boolean,
  work: (given: Given<E>, request: Request, response: Response) => Promise<Answer<E>> | Answer<E>,
): void {
  const method = endpoint.method.toLowerCase() as 'get' | 'post' | 'put' | 'patch' | 'delete';
  const handle: RequestHandler = async (request, response, next) => {
    if (endpoint.takesFile && request.is('json')) {
      next();
      return;
    }
    await admit(request, endpoint);
    const body = await readBody(request, response, endpoint, isPrepared);
    const given = {
      params: request.params,
      query: endpoint.query?.parse(request.query),
      body,
    } as Given<E>;
    const answer = await work(given, request, response);
    // A file, or an answer that went on for long, was sent by the call itself.
    if (endpoint.file !== null || response.headersSent) return;
    response.status(endpoint.status);
    if (answer instanceof JsonText) response.type('json').send(answer.text);
    else if (endpoint.answer) response.json(answer);
    else response.end();
  };
  servedBy.set(handle, endpoint);
  router[method](endpoint.path, handle);
}

import type { Asked, Endpoint } from '@oiseau/api';
import type { Request, Response, Router } from 'express';
import type { z } from 'zod';

/** An answer as a service gives it: a moment may still be a Date, which JSON writes as ISO 8601. */
type Sent<T> = T extends string
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

/**
 * Serves one call of the contract: what it is asked with is read by its schemas, its answer goes out with its status. A call whose answer is
 * a file sends that itself. Where two calls share a path, one with JSON and one with a file, each takes its own.
 * @throws ZodError, which becomes a 400 that names the field
 */
export function serve<E extends Endpoint>(
  router: Router,
  endpoint: E,
  work: (given: Given<E>, request: Request, response: Response) => Promise<SentBy<E>> | SentBy<E>,
): void {
  const method = endpoint.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
  router[method](endpoint.path, async (request: Request, response: Response, next: () => void) => {
    if (endpoint.takesFile && request.is('json')) {
      next();
      return;
    }
    const given = {
      params: request.params,
      query: endpoint.query?.parse(request.query),
      body: endpoint.body?.parse(request.body ?? {}),
    } as Given<E>;
    const answer = await work(given, request, response);
    if (endpoint.file !== null) return;
    response.status(endpoint.status);
    if (endpoint.answer) response.json(answer);
    else response.end();
  });
}

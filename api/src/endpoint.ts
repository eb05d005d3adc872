import type * as z from 'zod';
import type { Right } from './rights.js';

/** Names of the variable parts of a path: `id` and `sha256` of `/albums/:id/masters/:sha256`. */
export type ParamsOf<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Name | ParamsOf<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? Name
    : never;

export type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';

/**
 * What a key must open so that a call may be made: nothing at all (`none`), anything (`any`: what is not of one album, or is sorted out by
 * album behind it), the album, delivery, note, master, picture, file on its way in, key, receiver, hand-over or invitation that the path names. Behind `listener`
 * no key is of use: it is for who has come by the address of the very invitation that the path names.
 */
export type Door =
  | 'none'
  | 'any'
  | 'album'
  | 'delivery'
  | 'note'
  | 'master'
  | 'picture'
  | 'intake'
  | 'key'
  | 'receiver'
  | 'handover'
  | 'invitation'
  | 'listener';

/** One call of the API, below `/api`: what it is asked with, and what it answers. */
export interface Endpoint<
  Path extends string = string,
  Query extends z.ZodType | undefined = z.ZodType | undefined,
  Body extends z.ZodType | undefined = z.ZodType | undefined,
  Answer extends z.ZodType | undefined = z.ZodType | undefined,
> {
  readonly method: Method;
  readonly path: Path;
  /** What it does, in a sentence. */
  readonly does: string;
  readonly door: Door;
  /** What a visitor must be allowed to do. */
  readonly right: Right;
  /** Only for keys to all albums: it concerns the whole installation. */
  readonly unlimited: boolean;
  /** Of an answer that is all right. */
  readonly status: 200 | 201 | 202 | 204;
  readonly query: Query;
  /** As JSON. */
  readonly body: Body;
  /** The largest JSON body, in bytes. */
  readonly most: number;
  /** The body may be a file instead: its bytes and nothing else. */
  readonly takesFile: boolean;
  /** As JSON; undefined: there is none, or a file. */
  readonly answer: Answer;
  /** The media type of an answer that is a file. */
  readonly file: string | null;
}

type Options<Query, Body, Answer> = Partial<{
  status: Endpoint['status'];
  right: Right;
  unlimited: boolean;
  most: number;
  query: Query;
  body: Body;
  takesFile: boolean;
  answer: Answer;
  file: string;
}>;

/** What a body may be that does not say otherwise. */
const USUAL_BODY = 1_000_000;

/** Describes a call; what is left out it does not have. Without a right of its own, a GET needs the right to listen, all else the right to work. */
export function endpoint<
  const Path extends string,
  Query extends z.ZodType | undefined = undefined,
  Body extends z.ZodType | undefined = undefined,
  Answer extends z.ZodType | undefined = undefined,
>(
  method: Method,
  path: Path,
  door: Door,
  does: string,
  options: Options<Query, Body, Answer> = {},
): Endpoint<Path, Query, Body, Answer> {
  const {
    query,
    body,
    answer,
    takesFile = false,
    file = null,
    most = USUAL_BODY,
    unlimited = false,
  } = options;
  const right = options.right ?? (method === 'GET' ? 'listen' : 'work');
  const status = options.status ?? (answer || file ? 200 : 204);
  return {
    ...{ method, path, door, right, unlimited, does, status, most, takesFile, file },
    query: query as Query,
    body: body as Body,
    answer: answer as Answer,
  };
}

/** What goes into a call. */
export interface Asked<E extends Endpoint> {
  readonly params: Readonly<Record<ParamsOf<E['path']>, string | number>>;
  readonly query: E['query'] extends z.ZodType ? z.input<E['query']> : undefined;
  readonly body: E['body'] extends z.ZodType ? z.input<E['body']> : undefined;
}

/** What a caller gets. */
export type AnswerOf<E extends Endpoint> = E['answer'] extends z.ZodType ? z.output<E['answer']> : undefined;

type Given<E extends Endpoint, Part extends keyof Asked<E>> = Asked<E>[Part] extends undefined
  ? Readonly<Partial<Record<Part, undefined>>>
  : Readonly<Record<Part, Asked<E>[Part]>>;
type GivenParams<E extends Endpoint> = [ParamsOf<E['path']>] extends [never]
  ? { readonly params?: undefined }
  : { readonly params: Asked<E>['params'] };
/** A call with everything that it needs and nothing else. */
export type Call<E extends Endpoint> = GivenParams<E> & Given<E, 'query'> & Given<E, 'body'>;

/** The address of a call, `/api` in front; every variable part is escaped. */
export function addressOf<E extends Endpoint>(
  { path }: E,
  given: GivenParams<E> & { readonly query?: Asked<E>['query'] | undefined },
): string {
  const params = (given.params ?? {}) as Readonly<Record<string, string | number>>;
  const filled = path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(String(params[name] ?? '')));
  const asked = Object.entries((given.query ?? {}) as Record<string, unknown>).filter(
    ([, value]) => value !== undefined,
  );
  const query = new URLSearchParams(asked.map(([name, value]): [string, string] => [name, String(value)]));
  return `/api${filled}${asked.length > 0 ? `?${query.toString()}` : ''}`;
}

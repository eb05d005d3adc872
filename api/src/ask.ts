import { type Message } from '@oiseau/messages';
import type * as z from 'zod';
import { addressOf, type AnswerOf, type Call, type Endpoint } from './endpoint.js';
import { failure } from './failure.js';

/** A refusal by the server, no answer, or one that is not what it should be; the message is a sentence for the person. */
export class ApiFailure extends Error {
  override readonly name = 'ApiFailure';
  constructor(
    /** HTTP status; 0 when there was no answer. */
    readonly status: number,
    message: string,
    readonly details: Readonly<Record<string, unknown>> = {},
    options?: ErrorOptions,
    /** The sentence as a message, where the server says it. */
    readonly words: Message | null = null,
  ) {
    super(message, options);
  }
}

/** How calls get to the server: the browser's own `fetch`, or a script's with an address in front. */
export type Fetch = (address: string, request: RequestInit) => Promise<Response>;

/** Calls of a script: an installation's address, and the key that opens it. */
export const fetchWithKey =
  (base: string, key: string): Fetch =>
  (address, request) =>
    fetch(`${base}${address}`, {
      ...request,
      headers: { ...(request.headers as Record<string, string>), Authorization: `Bearer ${key}` },
    });

/** Message when the server doesn't respond. */
export const NO_ANSWER = 'The server doesn’t respond. Is Oiseau still running?';

/** `albums[0].title: …`: the field of an answer that does not fit, and why. */
export function misfitWords(error: z.ZodError): string {
  const [issue] = error.issues;
  const field = (issue?.path ?? [])
    .map((part, i) => (typeof part === 'number' ? `[${part}]` : `${i > 0 ? '.' : ''}${String(part)}`))
    .join('');
  return `${field || 'the answer'}: ${issue?.message ?? 'unknown'}`;
}

/**
 * Calls the API.
 * @param file the body of a call that takes a file
 * @throws ApiFailure for a refusal, for no answer, and for an answer that does not fit the contract, which names its field
 */
export async function ask<E extends Endpoint>(
  fetch: Fetch,
  endpoint: E,
  given: Call<E>,
  { file, ...options }: RequestInit & { readonly file?: NonNullable<RequestInit['body']> } = {},
): Promise<AnswerOf<E>> {
  const { method, status } = endpoint;
  const address = addressOf(endpoint, given);
  // A header that no form can send says that a page of ours, or a script, means it.
  const request: RequestInit = { method, headers: { 'X-Oiseau': '1' }, ...options };
  if (file !== undefined)
    Object.assign(request, { body: file, headers: { 'Content-Type': 'application/octet-stream' } });
  else if (given.body !== undefined)
    Object.assign(request, {
      body: JSON.stringify(given.body),
      headers: { 'Content-Type': 'application/json' },
    });
  const response = await fetch(address, request).catch((cause: unknown) => {
    throw new ApiFailure(0, NO_ANSWER, {}, { cause });
  });
  const text = await response.text();
  if (response.status !== status) throw refusalOf(response.status, text);
  if (!endpoint.answer) return undefined as AnswerOf<E>;
  const read = endpoint.answer.safeParse(jsonOf(text));
  if (read.success) return read.data as AnswerOf<E>;
  const words = `The server’s response to ${method} ${address} is invalid: ${misfitWords(read.error)}`;
  throw new ApiFailure(response.status, words, {}, { cause: read.error });
}

/** What a refusal says. */
export function refusalOf(status: number, text: string): ApiFailure {
  const read = failure.safeParse(jsonOf(text));
  if (!read.success) return new ApiFailure(status, `The server responded with status ${status}.`);
  const { error, words, ...details } = read.data;
  return new ApiFailure(status, error, details, undefined, words ?? null);
}

/** Whatever JSON a text is; undefined for none. */
function jsonOf(text: string): unknown {
  try {
    return text === '' ? undefined : (JSON.parse(text) as unknown);
  } catch {
    return undefined;
  }
}

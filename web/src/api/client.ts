import { ApiFailure, ask, NO_ANSWER, refusalOf, type AnswerOf, type Call, type Endpoint } from '@oiseau/api';
import { say } from '../ui/messages.js';
import { takeEarly } from './early.js';

const signedOut = new Set<() => void>();
const reached = new Set<(away: string | null) => void>();

/** Calls `listener` after every call with null when it was answered, else with the sentence that says who is away. @returns the way to end it */
export function onReached(listener: (away: string | null) => void): () => void {
  reached.add(listener);
  return () => reached.delete(listener);
}

/** Statuses that mean the server is unreachable, not that it failed. */
const AWAY = [0, 502, 503, 504];

/** Calls `listener` whenever an answer says that there is no session any more. @returns the way to end it */
export function onSignedOut(listener: () => void): () => void {
  signedOut.add(listener);
  return () => signedOut.delete(listener);
}

/**
 * One call of the API.
 * @param options what `fetch` takes beside it; `file` is the body of a call that takes a small file (masters go by pieces: see `upload.ts`)
 * @throws ApiFailure whose message is a sentence for the person
 */
export async function call<E extends Endpoint>(
  endpoint: E,
  given: Call<E>,
  options: RequestInit & { readonly file?: File } = {},
): Promise<AnswerOf<E>> {
  let away: string | null = null;
  try {
    return await ask(
      (address, request) => takeEarly(address, request) ?? fetch(address, request),
      endpoint,
      given,
      options,
    );
  } catch (error) {
    if (error instanceof ApiFailure && error.words) error.message = say(error.words);
    if (error instanceof ApiFailure && error.status === 401) for (const listener of signedOut) listener();
    if (error instanceof ApiFailure && AWAY.includes(error.status)) away = error.message;
    throw error;
  } finally {
    for (const listener of reached) listener(away);
  }
}

/** Asks whether a file would be had. @throws ApiFailure whose message says why not */
export async function demandDownload(address: string): Promise<void> {
  const unreached = (cause: unknown): never => {
    throw new ApiFailure(0, NO_ANSWER, {}, { cause });
  };
  const { ok } = await fetch(address, { method: 'HEAD' }).catch(unreached);
  if (ok) return;
  // An answer to HEAD has no words: they are asked for.
  const refused = await fetch(address).catch(unreached);
  if (!refused.ok) throw refusalOf(refused.status, await refused.text());
}

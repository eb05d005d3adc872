import { ApiFailure, ask, type AnswerOf, type Call, type Endpoint } from '@oiseau/api';

const signedOut = new Set<() => void>();
const reached = new Set<(away: string | null) => void>();

/** Calls `listener` after every call with null when it was answered, else with the sentence that says who is away. @returns the way to end it */
export function onReached(listener: (away: string | null) => void): () => void {
  reached.add(listener);
  return () => reached.delete(listener);
}

/** Statuses that say that nobody is there, not that something is wrong. */
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
    return await ask((address, request) => fetch(address, request), endpoint, given, options);
  } catch (error) {
    if (error instanceof ApiFailure && error.status === 401) for (const listener of signedOut) listener();
    if (error instanceof ApiFailure && AWAY.includes(error.status)) away = error.message;
    throw error;
  } finally {
    for (const listener of reached) listener(away);
  }
}

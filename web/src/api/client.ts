import { ApiFailure, ask, type AnswerOf, type Call, type Endpoint } from '@oiseau/api';

const signedOut = new Set<() => void>();

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
  try {
    return await ask((address, request) => fetch(address, request), endpoint, given, options);
  } catch (error) {
    if (error instanceof ApiFailure && error.status === 401) for (const listener of signedOut) listener();
    throw error;
  }
}

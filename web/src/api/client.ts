import { ask, type AnswerOf, type Call, type Endpoint } from '@oiseau/api';

/**
 * One call of the API.
 * @param options what `fetch` takes beside it; `file` is the body of a call that takes a small file (masters go by pieces: see `upload.ts`)
 * @throws ApiFailure whose message is a sentence for the person
 */
export function call<E extends Endpoint>(
  endpoint: E,
  given: Call<E>,
  options: RequestInit & { readonly file?: File } = {},
): Promise<AnswerOf<E>> {
  return ask((address, request) => fetch(address, request), endpoint, given, options);
}

// The API of a running application, called by its contract.
import { addressOf, ask, CONTRACT, fetchWithKey } from '@oiseau/api';
import type { AnswerOf, Call, Endpoint } from '@oiseau/api';
import type { BrowserContext } from '@playwright/test';

/** Where an application answers, and the key that opens it. */
export interface Reached {
  readonly url: string;
  readonly key: string;
}

export interface Api {
  readonly CONTRACT: typeof CONTRACT;
  call<E extends Endpoint>(
    endpoint: E,
    given: Call<E>,
    options?: Parameters<typeof ask>[3],
  ): Promise<AnswerOf<E>>;
  /** The address of a file. */
  address<E extends Endpoint>(endpoint: E, given: Parameters<typeof addressOf<E>>[1]): string;
}

export function apiOf({ url, key }: Reached): Api {
  const fetch = fetchWithKey(url, key);
  return {
    CONTRACT,
    call: (endpoint, given, options) => ask(fetch, endpoint, given, options),
    address: (endpoint, given) => `${url}${addressOf(endpoint, given)}`,
  };
}

/** Signs a browser's context in, as the address does that carries the key. */
export async function signIn(context: BrowserContext, { url, key }: Reached): Promise<void> {
  const answer = await context.request.post(`${url}/api/session`, { data: { key } });
  if (!answer.ok()) throw new Error(`The session could not be begun: ${answer.status()}`);
}

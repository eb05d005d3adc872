// The API of a running application, called by its contract. The target `api` must be built.

/**
 * @param application its address and the key that opens it
 * @returns the contract, a function that makes one of its calls, and one that gives the address of a file
 */
export async function apiOf({ url, key }) {
  const { addressOf, ask, CONTRACT, fetchWithKey } = await import('../dist/api.mjs');
  const call = (endpoint, given, options) => ask(fetchWithKey(url, key), endpoint, given, options);
  const address = (endpoint, given) => `${url}${addressOf(endpoint, given)}`;
  return { call, address, CONTRACT };
}

/** Signs a browser's context in, as the address does that carries the key. */
export async function signIn(context, { url, key }) {
  const answer = await context.request.post(`${url}/api/session`, { data: { key } });
  if (!answer.ok()) throw new Error(`The session could not be begun: ${answer.status()}`);
}

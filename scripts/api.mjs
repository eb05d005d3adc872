// The API of a running application, called by its contract. The target `api` must be built.

/**
 * @param base address of the application
 * @returns the contract, a function that makes one of its calls, and one that gives the address of a file
 */
export async function apiOf(base) {
  const { addressOf, ask, CONTRACT } = await import('../dist/api.mjs');
  const call = (endpoint, given, options) =>
    ask((address, request) => fetch(`${base}${address}`, request), endpoint, given, options);
  const address = (endpoint, given) => `${base}${addressOf(endpoint, given)}`;
  return { call, address, CONTRACT };
}

// The API of a running application, called by its contract. The target `api` must be built.

/**
 * @param base address of the application
 * @returns the contract and a function that makes one of its calls
 */
export async function apiOf(base) {
  const { ask, CONTRACT } = await import('../dist/api.mjs');
  const call = (endpoint, given, options) =>
    ask((address, request) => fetch(`${base}${address}`, request), endpoint, given, options);
  return { call, CONTRACT };
}

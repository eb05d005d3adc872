import { ApiFailure, CONTRACT, type Visitor } from '@oiseau/api';
import { queryOptions } from '@tanstack/react-query';
import { call } from '../api/client.js';
import { keyInAddress } from './key-link.js';

/** The visitor; null: not signed in. Kept until sign-in or sign-out. */
export const sessionQuery = queryOptions({
  queryKey: ['session'] as const,
  queryFn: comeIn,
  staleTime: Infinity,
});

/** Trades the key in the address for a session and takes it out of the address; without one, asks who is here. */
async function comeIn(): Promise<Visitor | null> {
  const key = keyInAddress(window.location.hash);
  if (key !== null) {
    const visitor = await call(CONTRACT.signIn, { body: { key } }).catch(outside);
    window.history.replaceState(null, '', window.location.pathname + window.location.search);
    if (visitor) return visitor;
  }
  return call(CONTRACT.session, {}).catch(outside);
}

function outside(error: unknown): null {
  if (error instanceof ApiFailure && error.status === 401) return null;
  throw error;
}

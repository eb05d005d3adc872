import { createContext, useContext, type ReactNode } from 'react';
import { useArrivals } from './useArrivals.js';

type Value = ReturnType<typeof useArrivals>;
const ArrivalsContext = createContext<Value>({ offers: [], settle: () => undefined });

/** Newer versions that are offered, and the answer. */
export const useVersionOffers = (): Value => useContext(ArrivalsContext);

/** Settles what comes in as long as an album is open, in whatever view. */
export function ArrivalsProvider({ children }: { children: ReactNode }) {
  return <ArrivalsContext value={useArrivals()}>{children}</ArrivalsContext>;
}

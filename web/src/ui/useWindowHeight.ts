import { useSyncExternalStore } from 'react';

const listen = (changed: () => void): (() => void) => {
  window.addEventListener('resize', changed);
  return () => window.removeEventListener('resize', changed);
};

/** The height of the window, in pixels, as it is now. */
export const useWindowHeight = (): number => useSyncExternalStore(listen, () => window.innerHeight);

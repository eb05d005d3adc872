/** The key that an address carries after `#key=`; null for an address without one. */
export const keyInAddress = (hash: string): string | null => /^#key=([\w-]{1,200})$/.exec(hash)?.[1] ?? null;

/** A key as typed or pasted: alone, or as a whole link. */
export const keyInText = (text: string): string => keyInAddress(text.slice(text.indexOf('#'))) ?? text.trim();

/** An address that lets its holder in. Behind the `#`, so that no server and no log gets to see the key on its way. */
export const addressWithKey = (origin: string, key: string): string => `${origin}/#key=${key}`;

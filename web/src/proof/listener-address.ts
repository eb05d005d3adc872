/** The address of an invitation. The secret stands behind the `#`, so that no server and no log gets to see it on its way. */
export const addressOfInvitation = (origin: string, id: string, secret: string): string =>
  `${origin}/listen/${id}#${secret}`;

/** The secret that an address carries; null for one without. */
export const secretInAddress = (hash: string): string | null => /^#([\w-]{1,200})$/.exec(hash)?.[1] ?? null;

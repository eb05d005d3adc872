import type { Role } from '@oiseau/api';
import type { Request } from 'express';

/** The key that `npm start` makes; it opens everything and is never taken back. */
export const FIRST_KEY = 'first';

/** The network address of who asks, as it is kept. */
export const fromOf = (request: Request): string => (request.ip ?? '').slice(0, 64);

/** Who makes a request: who holds the key that came with it. */
export interface Visitor {
  readonly keyId: string;
  /** Name of the holder; empty for the first key until it is named. */
  readonly name: string;
  readonly role: Role;
  /** Whether the key opens every album, or those alone that it was given. */
  readonly opensAll: boolean;
  /** The network address that the request came from. */
  readonly from: string;
}

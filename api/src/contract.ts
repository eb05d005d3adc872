import { ACCESS } from './access.js';
import { ALBUMS } from './albums.js';
import { CHANGES } from './changes.js';
import { DELIVERIES } from './deliveries.js';
import type { Endpoint } from './endpoint.js';
import { HANDOVERS } from './handovers.js';
import { INVITATIONS } from './invitations.js';
import { KEEPING } from './keeping.js';
import { MASTERS } from './masters.js';
import { OTHERS } from './others.js';
import { SOUNDS } from './sounds.js';

/** Every call of the API but for uploads by pieces, which follow the open protocol tus 1.0.0 at `/api/uploads`. */
export const CONTRACT = {
  ...ACCESS,
  ...ALBUMS,
  ...MASTERS,
  ...DELIVERIES,
  ...OTHERS,
  ...KEEPING,
  ...SOUNDS,
  ...HANDOVERS,
  ...INVITATIONS,
  ...CHANGES,
} as const;

export const ENDPOINTS: readonly Endpoint[] = Object.values(CONTRACT);

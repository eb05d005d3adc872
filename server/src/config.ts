import { join, resolve } from 'node:path';
import { z } from 'zod';
import type { DatabaseSettings } from './db/database.js';

const environment = z.object({
  OISEAU_DATA: z.string().default('data'),
  OISEAU_PORT: z.coerce.number().int().min(0).max(65_535).default(4680),
  OISEAU_DB_SOCKET: z.string(),
  OISEAU_DB_USER: z.string().default('oiseau'),
  OISEAU_DB_PASSWORD: z.string(),
  OISEAU_DB_NAME: z.string().default('oiseau'),
  OISEAU_WEB: z.string().default('dist/web'),
  OISEAU_LOG: z.enum(['silent', 'error', 'info', 'debug']).default('error'),
});

export interface Config {
  readonly port: number;
  readonly media: string;
  /** Folder of the built interface. */
  readonly web: string;
  readonly logLevel: string;
  readonly database: DatabaseSettings;
}

/** Reads the settings that `scripts/start.mjs` (or a test) passes in the environment. */
export function readConfig(env: NodeJS.ProcessEnv): Config {
  const found = environment.parse(env);
  return {
    port: found.OISEAU_PORT,
    media: join(resolve(found.OISEAU_DATA), 'media'),
    web: resolve(found.OISEAU_WEB),
    logLevel: found.OISEAU_LOG,
    database: {
      socketPath: found.OISEAU_DB_SOCKET,
      user: found.OISEAU_DB_USER,
      password: found.OISEAU_DB_PASSWORD,
      database: found.OISEAU_DB_NAME,
    },
  };
}

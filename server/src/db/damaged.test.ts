import { once } from 'node:events';
import { pino } from 'pino';
import { describe, expect, it } from 'vitest';
import express from 'express';
import type { AddressInfo } from 'node:net';
import { errorHandler } from '../http/error-handler.js';
import { isDamaged } from './damaged.js';

/** As mysql2 throws it. */
const ofDatabase = (code: string, errno: number): Error => Object.assign(new Error('words'), { code, errno });
const TABLE = ofDatabase('ER_NO_SUCH_TABLE_IN_ENGINE', 1932);

describe('a damaged table', () => {
  it('is told from a query that is wrong, and from a database that is away', () => {
    expect(isDamaged(TABLE)).toBe(true);
    expect(isDamaged(new Error('while listing', { cause: TABLE }))).toBe(true);
    expect(isDamaged(ofDatabase('ER_TABLE_CORRUPT', 1877))).toBe(true);
    expect(isDamaged(ofDatabase('ER_PARSE_ERROR', 1064))).toBe(false);
    expect(isDamaged(ofDatabase('ECONNRESET', -104))).toBe(false);
    expect(isDamaged('no error')).toBe(false);
  });

  it('is answered with the backup that restores it', async () => {
    process.env.OISEAU_WAY_OUT =
      'npm run restore -- "/data/backups/x" "/data-restored" makes a new data folder.';
    const app = express().get('/', () => {
      throw TABLE;
    });
    app.use(errorHandler(pino({ level: 'silent' }), () => Promise.resolve(null)));
    const server = app.listen(0, '127.0.0.1');
    await once(server, 'listening');
    try {
      const answer = await fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
      expect(answer.status).toBe(503);
      expect(await answer.json()).toEqual({
        code: 'database-damaged',
        error:
          'A database table is damaged. Nothing was changed. npm run restore -- "/data/backups/x" "/data-restored" makes a new data folder.',
      });
    } finally {
      delete process.env.OISEAU_WAY_OUT;
      server.close();
    }
  });
});

import { readFile } from 'node:fs/promises';
import { receiverKind } from '@oiseau/api';
import * as z from 'zod';
import type { Db } from '../db/database.js';

/** Where the stand-ins listen, as they have written it down. */
const listening = z.array(
  z.object({ kind: receiverKind, name: z.string(), url: z.url(), token: z.string().min(1) }),
);

/** They keep their ids, whatever port they get. */
const ID: Readonly<Record<z.output<typeof receiverKind>, string>> = {
  drive: '00000000-0000-4000-8000-000000000001',
  plant: '00000000-0000-4000-8000-000000000002',
  shop: '00000000-0000-4000-8000-000000000003',
  service: '00000000-0000-4000-8000-000000000004',
};

/** Notes the stand-ins among the receivers; one that somebody has taken out stays so.*/
export async function noteStandIns(db: Db, path: string): Promise<void> {
  for (const { kind, name, url, token } of listening.parse(JSON.parse(await readFile(path, 'utf8'))))
    await db.execute(
      `INSERT INTO receivers (id, kind, name, url, token, stand_in, created_at) VALUES (?, ?, ?, ?, ?, TRUE, UTC_TIMESTAMP(3))
       ON DUPLICATE KEY UPDATE url = VALUES(url), token = VALUES(token)`,
      [ID[kind], kind, name, url, token],
    );
}

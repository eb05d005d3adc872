import { readFile } from 'node:fs/promises';
import { receiverKind, recipientOf } from '@oiseau/api';
import * as z from 'zod';
import type { Db } from '../db/database.js';

/** Where the stand-ins listen, as they have written it down. */
const listening = z.array(
  z.object({ kind: receiverKind, name: z.string(), url: z.url(), token: z.string().min(1) }),
);

/** Notes the stand-ins among the receivers; one that was removed stays removed.*/
export async function noteStandIns(db: Db, path: string): Promise<void> {
  for (const { kind, name, url, token } of listening.parse(JSON.parse(await readFile(path, 'utf8'))))
    await db.execute(
      `INSERT INTO receivers (id, kind, name, url, token, stand_in, created_at) VALUES (?, ?, ?, ?, ?, TRUE, UTC_TIMESTAMP(3))
       ON DUPLICATE KEY UPDATE url = VALUES(url), token = VALUES(token)`,
      [recipientOf(kind).simulatedId, kind, name, url, token],
    );
}

/** How long a simulated recipient may take to answer. */
const PATIENCE_MS = 1000;

/** Why simulated recipients can't be reached at the moment, in a sentence; null: all answer. */
export async function troubleOfStandIns(db: Db): Promise<string | null> {
  const listed = await db.many(
    (row) => ({ name: String(row.name), url: String(row.url) }),
    'SELECT name, url FROM receivers WHERE stand_in AND removed_at IS NULL ORDER BY name',
  );
  const away = await Promise.all(
    listed.map(({ name, url }) =>
      // Without its token it refuses, which is an answer.
      fetch(url, { signal: AbortSignal.timeout(PATIENCE_MS) }).then(
        () => [],
        () => [name],
      ),
    ),
  );
  const names = away.flat();
  return names.length === 0 ? null : `Simulated recipients don’t answer: ${names.join(', ')}.`;
}

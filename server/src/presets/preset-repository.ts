import type { Preset } from '@oiseau/api';
import { deliverableDocument, readDeliverableDocument, type Deliverable } from '@oiseau/core';
import type { Db, Parse } from '../db/database.js';

const parse: Parse<Preset> = (row) => ({
  name: String(row.name),
  deliverable: readDeliverableDocument(JSON.parse(String(row.deliverable))),
});

/** By name. */
export const listPresets = (db: Db): Promise<Preset[]> =>
  db.many(parse, 'SELECT name, deliverable FROM presets ORDER BY name');

/** Over one of its name. */
export async function savePreset(db: Db, name: string, deliverable: Deliverable): Promise<void> {
  await db.execute(
    `INSERT INTO presets (name, deliverable, created_at) VALUES (?, ?, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE deliverable = VALUES(deliverable)`,
    [name, JSON.stringify(deliverableDocument(deliverable))],
  );
}

export async function deletePreset(db: Db, name: string): Promise<void> {
  await db.execute('DELETE FROM presets WHERE name = ?', [name]);
}

import type { Preset } from '@oiseau/api';
import { deliverableDocument, readDeliverableDocument, type Deliverable } from '@oiseau/core';
import type { Db, Parse } from '../db/database.js';

const parse: Parse<Preset | null> = (row) => {
  try {
    return {
      name: String(row.name),
      deliverable: readDeliverableDocument(JSON.parse(String(row.deliverable))),
    };
  } catch {
    return null;
  }
};

/** By name; one that can't be read is left out, so that the others are there. */
export async function listPresets(db: Db): Promise<Preset[]> {
  const presets = await db.many(parse, 'SELECT name, deliverable FROM presets ORDER BY name');
  return presets.filter((preset) => preset !== null);
}

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

import type { Preset, TreatmentPreset } from '@oiseau/api';
import { deliverableDocument, readDeliverableDocument, readTreatmentDocument } from '@oiseau/album/file';
import { treatmentSchema } from '@oiseau/audio/stages';
import type { Deliverable } from '@oiseau/album/model';
import type { Db, Parse } from '../db/database.js';
import { toJson } from '../db/json.js';

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

const parseTreatment: Parse<TreatmentPreset | null> = (row) => {
  try {
    return { name: String(row.name), treatment: readTreatmentDocument(JSON.parse(String(row.treatment))) };
  } catch {
    return null;
  }
};

/** Treatments by name; one that can't be read is left out, so that the others are there. */
export async function listTreatments(db: Db): Promise<TreatmentPreset[]> {
  const all = await db.many(parseTreatment, 'SELECT name, treatment FROM treatments ORDER BY name');
  return all.filter((each) => each !== null);
}

/** Over one of its name. */
export async function saveTreatment(db: Db, { name, treatment }: TreatmentPreset): Promise<void> {
  await db.execute(
    `INSERT INTO treatments (name, treatment, created_at) VALUES (?, ?, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE treatment = VALUES(treatment)`,
    [name, toJson(treatmentSchema, treatment)],
  );
}

export async function deleteTreatment(db: Db, name: string): Promise<void> {
  await db.execute('DELETE FROM treatments WHERE name = ?', [name]);
}

import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { coding, comparison, embedded, measurement, pcmInfo, proof, told, verifyReport } from '@oiseau/api';
import { openWav, examineMaster } from '@oiseau/audio/pcm';
import { readDeliverableDocument } from '@oiseau/album/file';
import { sameValue } from '@oiseau/album/edits';
import { treatmentSchema } from '@oiseau/audio/stages';
import { FileByteSource } from '@oiseau/host';
import type * as z from 'zod';
import { parseDocument } from '../albums/album-repository.js';
import { isDamaged } from '../db/damaged.js';
import type { Database } from '../db/database.js';
import { findDelivery } from '../deliveries/delivery-repository.js';
import { findMaster } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';

/** A column of JSON, and what reads it; a value that it can't read is a fault. */
interface Column {
  readonly table: string;
  readonly key: string;
  readonly column: string;
  /** What begins a sentence about a row. */
  readonly called: (key: string) => string;
  readonly read: (value: unknown) => unknown;
  /** What helps. */
  readonly help: string;
}

const by = (schema: z.ZodType) => (value: unknown) => schema.parse(value);
const master = (key: string): string => `The record of the master ${key.slice(0, 12)}`;
const ADD_AGAIN = 'Add the same file again to repair it.';

const COLUMNS: readonly Column[] = [
  ...(
    [
      ['info', by(pcmInfo)],
      ['coding', by(coding)],
      ['embedded', by(embedded)],
      ['measurement', by(measurement)],
    ] as const
  ).map(([column, read]) => ({
    table: 'masters',
    key: 'sha256',
    column,
    called: master,
    read,
    help: ADD_AGAIN,
  })),
  ...(
    [
      ['deliverable', readDeliverableDocument],
      ['compared', by(comparison)],
    ] as const
  ).map(([column, read]) => ({
    ...{ table: 'deliveries', key: 'id', column, read },
    called: (id: string) => `The record of the render ${id}`,
    help: 'Render it again.',
  })),
  {
    ...{ table: 'handovers', key: 'id', column: 'told', read: by(told) },
    called: (id) => `The recipient’s response to delivery ${id}`,
    help: 'It is requested again automatically.',
  },
  ...(
    [
      ['presets', 'deliverable', readDeliverableDocument],
      ['treatments', 'treatment', by(treatmentSchema)],
    ] as const
  ).map(([table, column, read]) => ({
    ...{ table, key: 'name', column, read },
    called: (name: string) => `The preset “${name}”`,
    help: 'Save it again, or delete it.',
  })),
  {
    ...{ table: 'reports', key: 'kind', column: 'document', read: by(verifyReport) },
    called: () => 'The last report of this verification',
    help: 'This report replaces it.',
  },
];

/** Rows that can't be read any more, or that do not say what the files say, in a sentence each. */
export async function faultsOfRows(db: Database, media: MediaStore): Promise<string[]> {
  const faults: string[] = [];
  for (const column of COLUMNS) faults.push(...(await faultsOfColumn(db, column)));
  faults.push(...(await faultsOfDocuments(db)));
  faults.push(...(await faultsOfMasters(db, media)));
  faults.push(...(await faultsOfProofs(db, media)));
  return faults;
}

/** Rows of a table, a few at a time. A damaged table is named once, by `CHECK TABLE`. */
async function* rowsOf(db: Database, table: string, key: string, columns: string) {
  let after = '';
  for (;;) {
    const rows = await db
      .many(
        (row) => row,
        `SELECT ${key}, ${columns} FROM ${table} WHERE ${key} > ? ORDER BY ${key} LIMIT 100`,
        [after],
      )
      .catch((error: unknown) => {
        if (isDamaged(error)) return [];
        throw error;
      });
    yield* rows;
    const last = rows.at(-1);
    if (!last) return;
    after = String(last[key]);
  }
}

async function faultsOfColumn(
  db: Database,
  { table, key, column, called, read, help }: Column,
): Promise<string[]> {
  const faults: string[] = [];
  for await (const row of rowsOf(db, table, key, column)) {
    if (row[column] === null) continue;
    try {
      read(JSON.parse(String(row[column])));
    } catch {
      faults.push(`${called(String(row[key]))} is damaged (${column}). ${help}`);
    }
  }
  return faults;
}

/** Albums, deleted ones included, and revisions. */
async function faultsOfDocuments(db: Database): Promise<string[]> {
  const faults: string[] = [];
  const read = (called: string, text: unknown): void => {
    try {
      parseDocument(String(text));
    } catch (error) {
      faults.push(`${called}: ${error instanceof Error ? error.message : String(error)}`);
    }
  };
  for await (const row of rowsOf(db, 'albums', 'id', 'document'))
    read(`The album ${String(row.id)}`, row.document);
  const revisions = await db.many(
    (row) => ({ id: String(row.album_id), number: Number(row.number) }),
    'SELECT album_id, number FROM revisions ORDER BY album_id, number',
  );
  for (const { id, number } of revisions)
    await db.maybeOne(
      (row) => read(`Revision ${number} of the album ${id}`, row.document),
      'SELECT document FROM revisions WHERE album_id = ? AND number = ?',
      [id, number],
    );
  return faults;
}

/** Masters whose row says something else of the audio than its file does. */
async function faultsOfMasters(db: Database, media: MediaStore): Promise<string[]> {
  const faults: string[] = [];
  for await (const row of rowsOf(db, 'masters', 'sha256', 'bytes')) {
    const record = await findMaster(db, String(row.sha256));
    // An unreadable row or a missing file is named already.
    if (!record || record.damaged) continue;
    const file = await FileByteSource.open(media.audio(record)).catch(() => null);
    if (!file) continue;
    try {
      const form = record.coding
        ? { kind: 'pcm', info: (await openWav(file)).info }
        : await examineMaster(file, true);
      if (form.kind === 'pcm' && 'info' in form && !sameValue(form.info, record.info))
        faults.push(`${master(record.sha256)} doesn’t match its file. ${ADD_AGAIN}`);
    } catch {
      // A file that has changed so much is named by its sum.
    } finally {
      await file.close();
    }
  }
  return faults;
}

/** Proofs that can't be read, and files beside a render that say something else than the database. */
async function faultsOfProofs(db: Database, media: MediaStore): Promise<string[]> {
  const faults: string[] = [];
  for await (const row of rowsOf(db, 'deliveries', 'id', 'proof, cleared_at')) {
    if (row.proof === null) continue;
    const id = String(row.id);
    const delivery = await findDelivery(db, id);
    if (!delivery?.proof) {
      faults.push(`The proof of the delivery ${id} is damaged. Render it again.`);
      continue;
    }
    if (delivery.clearedAt) continue;
    const { deliverable, attempt } = delivery;
    const path = join(media.delivery(id), attempt, deliverable.name, 'proof.json');
    const text = await readFile(path, 'utf8').catch(() => null);
    if (text !== null && !saysTheSame(text, String(row.proof)))
      faults.push(`“proof.json” of the render “${deliverable.name}” has changed on disk. Render it again.`);
  }
  return faults;
}

function saysTheSame(file: string, stored: string): boolean {
  try {
    return sameValue(proof.parse(JSON.parse(file)), proof.parse(JSON.parse(stored)));
  } catch {
    return false;
  }
}

import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { digestFile, systemCode } from '@oiseau/host';
import type { VerifyReport } from '@oiseau/api';
import { damageHelp, isDamaged } from '../db/damaged.js';
import type { Database } from '../db/database.js';
import { decodeAgain } from '../masters/decoded.js';
import { findMaster } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import { keptFiles, type KeptFile } from './kept-files.js';
import { faultsOfRows } from './verify-rows.js';

type Fault = VerifyReport['faults'][number];

/** @param doneBytes of `totalBytes`; it may throw to end the look */
export type VerifyProgress = (doneBytes: number, totalBytes: number) => Promise<void>;

/**
 * Goes over media, renders and database: every file that the database names is read and held against its sum, every document is read, every
 * table checked. Decoded audio that is lost or changed is made anew.
 */
export async function verifyStore(
  db: Database,
  media: MediaStore,
  progress: VerifyProgress,
): Promise<VerifyReport> {
  let total = 0;
  for await (const file of keptFiles(db, media)) total += (await sizeOf(media, file)) ?? 0;
  const faults: Fault[] = [];
  let files = 0;
  let bytes = 0;
  for await (const file of keptFiles(db, media)) {
    await progress(bytes, total);
    const fault = await faultOf(media, file);
    files++;
    bytes += (await sizeOf(media, file)) ?? 0;
    if (fault !== null) faults.push(await heal(db, media, file, fault));
  }
  const words = [...(await faultsOfTables(db)), ...(await faultsOfRows(db, media))];
  return { files, bytes, faults: [...faults, ...words.map((each) => ({ words: each, healed: false }))] };
}

const sizeOf = async (media: MediaStore, { path }: KeptFile): Promise<number | null> =>
  stat(join(media.root, path)).then(
    ({ size }) => size,
    () => null,
  );

/** What is wrong with a file; null: nothing. */
export async function faultOf(media: MediaStore, file: KeptFile): Promise<string | null> {
  const size = await sizeOf(media, file);
  if (size === null) return 'is missing';
  if (file.bytes !== null && size !== file.bytes) return `has ${size} bytes instead of ${file.bytes}`;
  try {
    const sum = await digestFile(join(media.root, file.path), 'sha256');
    return file.sha256 === null || sum === file.sha256 ? null : 'has changed on the disk';
  } catch (error) {
    return systemCode(error) === 'ENOENT'
      ? 'is missing'
      : `can’t be read (${systemCode(error) ?? 'unknown'})`;
  }
}

async function heal(db: Database, media: MediaStore, file: KeptFile, fault: string): Promise<Fault> {
  const words = `${file.called} ${fault}`;
  if (file.kind === 'render') return { words: `${words}. Render it again.`, healed: false };
  if (file.kind !== 'decoded') return { words: `${words}. Add the same file again.`, healed: false };
  try {
    const master = await findMaster(db, file.subject);
    if (master) await decodeAgain(db, media, master);
    return { words: `${words}. It was recreated.`, healed: true };
  } catch {
    return { words: `${words}. Add the same file again.`, healed: false };
  }
}

async function faultsOfTables(db: Database): Promise<string[]> {
  const tables = await db.snapshot((snapshot) => snapshot.tables());
  const faults: string[] = [];
  for (const table of tables) {
    const rows = await db
      .many((row) => ({ type: String(row.Msg_type), text: String(row.Msg_text) }), `CHECK TABLE \`${table}\``)
      .catch((error: unknown) => {
        if (isDamaged(error)) return [{ type: 'error', text: '' }];
        throw error;
      });
    const wrong = rows.find(({ type, text }) => type === 'error' || (type === 'status' && text !== 'OK'));
    // MariaDB's own advice (to drop the table) would lose everything in it.
    if (wrong) faults.push(`The table ${table} of the database is damaged. ${damageHelp()}`);
  }
  return faults;
}

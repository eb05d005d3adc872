import { constants, createReadStream } from 'node:fs';
import { copyFile, link, mkdir, readdir, readFile, stat } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { createInterface } from 'node:readline';
import { Failure } from '@oiseau/core';
import { digestFile } from '@oiseau/host';
import type { Database } from '../db/database.js';
import { migrate } from '../db/migrate.js';
import { MIGRATIONS } from '../db/migrations.js';
import {
  contentPath,
  DATABASE,
  FILES,
  listedFile,
  manifest,
  MANIFEST,
  type ListedFile,
  type Manifest,
} from './backup.js';
import { faultsOfTables, restoreTables } from './dump.js';
import { keptFiles } from './kept-files.js';
import type { MediaStore } from '../media/media-store.js';

/** A backup that can't be used, with the sentence that says why. */
export class BackupRefused extends Failure {
  override readonly name = 'BackupRefused';
  readonly code = 'backup-refused';
  readonly status = 422;
}

/** A backup that was opened. */
export interface OpenBackup {
  readonly folder: string;
  readonly manifest: Manifest;
}

/**
 * Opens a backup: its own folder, or a folder of backups, of which the newest is meant.
 * @throws BackupRefused
 */
export async function openBackup(path: string): Promise<OpenBackup> {
  const folder = (await isBackup(path)) ? path : await newestIn(path);
  let text: string;
  try {
    text = await readFile(join(folder, MANIFEST), 'utf8');
  } catch (cause) {
    throw new BackupRefused(`${folder} is no backup: it has no ${MANIFEST}.`, { cause });
  }
  try {
    return { folder: resolve(folder), manifest: manifest.parse(JSON.parse(text)) };
  } catch (cause) {
    throw new BackupRefused(`${join(folder, MANIFEST)} can’t be read, or was written by a later version.`, {
      cause,
    });
  }
}

const isBackup = (path: string): Promise<boolean> =>
  stat(join(path, MANIFEST)).then(
    () => true,
    () => false,
  );

async function newestIn(path: string): Promise<string> {
  const names = await readdir(path).catch(() => []);
  for (const name of names.sort().reverse()) if (await isBackup(join(path, name))) return join(path, name);
  throw new BackupRefused(`${path} is no backup and holds none.`);
}

/** Where the content of a listed file lies. */
const sourceOf = ({ folder }: OpenBackup, { sha256 }: ListedFile): string =>
  contentPath(dirname(folder), sha256);

async function* listedFiles({ folder }: OpenBackup): AsyncGenerator<ListedFile> {
  const lines = createInterface({ input: createReadStream(join(folder, FILES)), crlfDelay: Infinity });
  for await (const line of lines) yield listedFile.parse(JSON.parse(line));
}

/** Reads a backup from end to end and holds it against its sums. @returns what is wrong with it, in a sentence each */
export async function verifyBackup(backup: OpenBackup, progress: (files: number) => void): Promise<string[]> {
  const { folder, manifest: made } = backup;
  const sumOf = (path: string): Promise<string> => digestFile(path, 'sha256');
  const faults = await faultsOfTables(join(folder, DATABASE), made.tables, sumOf);
  if ((await sumOf(join(folder, FILES)).catch(() => '')) !== made.files.sha256)
    return [...faults, `${FILES} is missing or has changed.`];
  let files = 0;
  for await (const file of listedFiles(backup)) {
    const sum = await sumOf(sourceOf(backup, file)).catch(() => null);
    if (sum === null) faults.push(`${file.path} is missing.`);
    else if (sum !== file.sha256) faults.push(`${file.path} has changed.`);
    progress(++files);
  }
  return faults;
}

/**
 * Fills an empty database and an empty media store from a backup, and brings it up to date.
 * @param tell gets a line now and then
 * @returns files that were not there or not whole, in a sentence each
 * @throws BackupRefused for a backup of a later version, and for tables that are not as they were written
 */
export async function restore(
  backup: OpenBackup,
  db: Database,
  media: MediaStore,
  tell: (line: string) => void = () => undefined,
): Promise<string[]> {
  const { folder, manifest: made } = backup;
  const later = made.migrations.find((name) => !MIGRATIONS.some((known) => known.name === name));
  if (later !== undefined)
    throw new BackupRefused(`This backup was made by a later version of Oiseau (${made.oiseau}).`);
  const [fault] = await faultsOfTables(join(folder, DATABASE), made.tables, (path) =>
    digestFile(path, 'sha256'),
  );
  if (fault !== undefined) throw new BackupRefused(`${folder} can’t be restored: ${fault}`);
  await migrate(
    db,
    undefined,
    MIGRATIONS.filter(({ name }) => made.migrations.includes(name)),
  );
  await restoreTables(db, join(folder, DATABASE), made.tables);
  await migrate(db);
  // Nothing is at work in a folder that was just restored.
  await db.execute("UPDATE jobs SET state = 'queued', worker = NULL WHERE state = 'running'");
  tell('The database is restored.');
  const faults: string[] = [];
  let files = 0;
  for await (const [from, file] of sources(backup, db, media)) {
    const to = join(media.root, file.path);
    await mkdir(dirname(to), { recursive: true });
    try {
      await link(from, to).catch(() => copyFile(from, to, constants.COPYFILE_EXCL));
    } catch {
      faults.push(`${file.path} is missing in the backup.`);
      continue;
    }
    if (file.sha256 !== null && (await digestFile(to, 'sha256')) !== file.sha256)
      faults.push(`${file.path} has changed in the backup.`);
    if (++files % 500 === 0) tell(`${files} files …`);
  }
  return faults;
}

interface Source {
  readonly path: string;
  readonly sha256: string | null;
}

/** Every file to restore, and where its bytes lie. */
async function* sources(
  backup: OpenBackup,
  db: Database,
  media: MediaStore,
): AsyncGenerator<[string, Source]> {
  if (backup.manifest.media === 'content') {
    for await (const file of listedFiles(backup)) yield [sourceOf(backup, file), file];
    return;
  }
  // The data folder in which the backup lies has the files still: data/backups/<backup>.
  const store = join(backup.folder, '../../media');
  for await (const file of keptFiles(db, media)) yield [join(store, file.path), file];
}

import { msg } from '@oiseau/messages';
import { constants, createReadStream } from 'node:fs';
import { copyFile, link, mkdir, readdir, readFile, stat } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { createInterface } from 'node:readline';
import { Failure } from '@oiseau/audio/errors';
import { digestFile, systemCode } from '@oiseau/host';
import type { Database } from '../db/database.js';
import { migrate } from '../db/migrate.js';
import { MIGRATIONS } from '../db/migrations.js';
import { regularFile } from './backup-folder.js';
import {
  contentNames,
  DATABASE,
  FILES,
  listedFile,
  manifest,
  MANIFEST,
  OUTSIDE,
  sequenceOf,
  sumOfManifest,
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
  const file = await regularFile(folder, MANIFEST);
  if (file === null)
    throw new BackupRefused(msg('{folder} isn’t a backup: {file} is missing.', { folder, file: MANIFEST }));
  let made: Manifest;
  try {
    made = manifest.parse(JSON.parse(await readFile(file, 'utf8')));
  } catch (cause) {
    throw new BackupRefused(msg('{file} can’t be read, or was written by a later version.', { file }), {
      cause,
    });
  }
  if (made.sum !== undefined && made.sum !== sumOfManifest(made))
    throw new BackupRefused(msg('{file} has changed since it was written. Use another backup.', { file }));
  return { folder: resolve(folder), manifest: made };
}

const isThere = (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  );
const isBackup = (path: string): Promise<boolean> => isThere(join(path, MANIFEST));

/** The backup that was made last, told by its place, not by a clock; of those without a place by its name. */
async function newestIn(path: string): Promise<string> {
  const found: { name: string; sequence: number }[] = [];
  for (const name of await readdir(path).catch(() => []))
    if (await isBackup(join(path, name))) found.push({ name, sequence: await sequenceOf(join(path, name)) });
  found.sort((a, b) => b.sequence - a.sequence || (a.name < b.name ? 1 : -1));
  const [newest] = found;
  if (!newest) throw new BackupRefused(msg('{path} isn’t a backup and contains none.', { path }));
  return join(path, newest.name);
}

/** Where the content of a sum lies in a backup; null: it is missing. @throws BackupUnsafe */
const contentOf = ({ folder }: OpenBackup, sha256: string): Promise<string | null> =>
  regularFile(dirname(folder), ...contentNames(sha256));

async function* linesOf({ folder }: OpenBackup): AsyncGenerator<string> {
  const path = await regularFile(folder, FILES);
  if (path === null) return;
  yield* createInterface({ input: createReadStream(path), crlfDelay: Infinity });
}

const sumOfFile = async (folder: string, ...names: readonly string[]): Promise<string | null> => {
  const path = await regularFile(folder, ...names);
  return path === null ? null : digestFile(path, 'sha256');
};

/** Tables of a backup that are not as they were written, in a sentence each. */
const faultsOfDump = ({ folder, manifest: made }: OpenBackup): Promise<string[]> =>
  faultsOfTables(made.tables, (file) => sumOfFile(folder, DATABASE, file));

/** Reads a backup from end to end and holds it against its sums. @returns what is wrong with it, in a sentence each */
export async function verifyBackup(backup: OpenBackup, progress: (files: number) => void): Promise<string[]> {
  const { folder, manifest: made } = backup;
  const faults = await faultsOfDump(backup);
  if ((await sumOfFile(folder, FILES)) !== made.files.sha256)
    return [...faults, `${FILES} is missing or has changed.`];
  let files = 0;
  for await (const line of linesOf(backup)) {
    const file = listedFile.parse(JSON.parse(line));
    const path = await contentOf(backup, file.sha256);
    const sum = path === null ? null : await digestFile(path, 'sha256');
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
    throw new BackupRefused(
      msg('This backup was made by a later version of Oiseau ({oiseau}).', { oiseau: made.oiseau }),
    );
  const [fault] = await faultsOfDump(backup);
  if (fault !== undefined)
    throw new BackupRefused(msg('{folder} can’t be restored: {fault}', { folder, fault }));
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
  for await (const source of sources(backup, db, media, faults)) {
    const fault = await restoreFile(source, media);
    if (fault !== null) faults.push(`${source.called ?? source.path} ${fault} in the backup.`);
    if (++files % 500 === 0) tell(`${files} files …`);
  }
  // Whatever the list says, the database knows which files there must be.
  for await (const file of keptFiles(db, media)) {
    if (await isThere(join(media.root, file.path))) continue;
    const from = file.sha256 === null ? null : await contentOf(backup, file.sha256);
    if (from === null) faults.push(`${file.called} is missing in the backup.`);
    else await restoreFile({ path: file.path, sha256: file.sha256, from }, media);
  }
  return [...new Set(faults)];
}

interface Source {
  readonly path: string;
  readonly sha256: string | null;
  /** Where its bytes lie; null: they are missing. */
  readonly from: string | null;
  readonly called?: string;
}

/** @returns what is wrong with the file; null: it is as it was */
async function restoreFile({ path, sha256, from }: Source, media: MediaStore): Promise<string | null> {
  const to = join(media.root, path);
  if (from === null) return 'is missing';
  await mkdir(dirname(to), { recursive: true });
  try {
    await link(from, to).catch(() => copyFile(from, to, constants.COPYFILE_EXCL));
  } catch (error) {
    return systemCode(error) === 'EEXIST' ? 'is listed twice' : 'can’t be read';
  }
  return sha256 !== null && (await digestFile(to, 'sha256')) !== sha256 ? 'has changed' : null;
}

/** Every file to restore, and where its bytes lie. @param faults gets lines that can't be read @throws BackupRefused for a path out of the store, BackupUnsafe */
async function* sources(
  backup: OpenBackup,
  db: Database,
  media: MediaStore,
  faults: string[],
): AsyncGenerator<Source> {
  if (backup.manifest.media === 'content') {
    if ((await sumOfFile(backup.folder, FILES)) !== backup.manifest.files.sha256)
      faults.push(`${FILES} has changed; files are identified by the database where possible.`);
    for await (const line of linesOf(backup)) {
      const read = listedFile.safeParse(jsonOf(line));
      if (read.success) {
        const { path, sha256 } = read.data;
        yield { path, sha256, from: await contentOf(backup, sha256) };
      } else if (read.error.issues.some(({ message }) => message === OUTSIDE))
        throw new BackupRefused(
          msg('{file} names a file outside the media store. The restore was stopped.', { file: FILES }),
        );
      else faults.push(`A line of ${FILES} can’t be read.`);
    }
    return;
  }
  // The data folder in which the backup lies has the files still: data/backups/<backup>.
  const store = join(backup.folder, '../../media');
  for await (const { path, sha256, called } of keptFiles(db, media))
    yield { path, sha256, called, from: await regularFile(store, ...path.split('/')) };
}

function jsonOf(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return undefined;
  }
}

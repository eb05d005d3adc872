import { msg } from '@oiseau/messages';
import { createHash } from 'node:crypto';
import { constants } from 'node:fs';
import {
  copyFile,
  link,
  mkdir,
  open,
  readdir,
  readFile,
  rename,
  rm,
  stat,
  writeFile,
} from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { VERSION } from '@oiseau/render';
import { digestFile, syncFile, systemCode } from '@oiseau/host';
import * as z from 'zod';
import type { Database, Snapshot } from '../db/database.js';
import type { MediaStore } from '../media/media-store.js';
import { dumpedTable, dumpTables } from './dump.js';
import { BackupBusy, PARTIAL, regularFile, withBackupFolder } from './backup-folder.js';
import { keptFiles, type KeptFile } from './kept-files.js';

/**
 * A folder of backups:
 *
 *     content/ab/ab12…                 every file by its SHA-256, once for all backups
 *     20261126T041500Z/manifest.json   what the backup holds; it stands when everything else does
 *     20261126T041500Z/files.jsonl     a line for each file of the media store: path, bytes, sha256
 *     20261126T041500Z/database/…      a file for each table
 */
export const manifest = z.strictObject({
  format: z.literal('oiseau-backup'),
  version: z.literal(1),
  oiseau: z.string(),
  at: z.iso.datetime(),
  /** Migrations that the database had seen. */
  migrations: z.array(z.string()),
  /** `content`: the files lie beside the backup; `data`: in the media store of the data folder in which the backup lies. */
  media: z.enum(['content', 'data']),
  tables: z.record(z.string().regex(/^\w+$/), dumpedTable),
  files: dumpedTable,
  /** Place among the backups of its folder, from 1: which is the newest no clock decides. */
  sequence: z.int().min(0).default(0),
  /** SHA-256 of all of this without `sum`, as `sealed` writes it; backups from before it was kept have none. */
  sum: z.string().optional(),
});
export type Manifest = z.output<typeof manifest>;

/** The SHA-256 of a manifest's content, whatever its keys' order. */
export function sumOfManifest({ sum: _sum, ...content }: z.input<typeof manifest>): string {
  const ordered = JSON.stringify(content, (_key, value: unknown) =>
    typeof value === 'object' && value !== null && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  );
  return createHash('sha256').update(ordered).digest('hex');
}

/** What is wrong with a path that leads out of the media store. */
export const OUTSIDE = 'is outside the media store';

/** A file of the media store in a backup. */
export const listedFile = z.object({
  path: z.string().regex(/^(?!.*(?:^|\/)\.{1,2}(?:\/|$))[^/].*$/s, OUTSIDE),
  bytes: z.int(),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
});
export type ListedFile = z.output<typeof listedFile>;

export const MANIFEST = 'manifest.json';
export const FILES = 'files.jsonl';
export const DATABASE = 'database';

/** Where the content of a file lies in a folder of backups. */
export const contentPath = (backups: string, sha256: string): string =>
  join(backups, ...contentNames(sha256));
export const contentNames = (sha256: string): string[] => ['content', sha256.slice(0, 2), sha256];

/** What a backup came to. */
export interface BackupReport {
  readonly folder: string;
  readonly files: number;
  readonly bytes: number;
  /** Bytes of files that no earlier backup in the same folder had. */
  readonly newBytes: number;
  /** Files that the backup lacks, since they are lost or changed. */
  readonly faults: readonly string[];
}

/** A moment as a name that sorts. */
export const stampOf = (moment: Date): string => moment.toISOString().replace(/[-:]|\.\d+/g, '');

/**
 * Backs up a data folder that may be at work: the database as it stands at one moment, and every file that it names.
 * @param backups the folder of backups; made where it is not there
 * @param tell gets a line now and then
 */
export async function backUp(
  db: Database,
  media: MediaStore,
  backups: string,
  tell: (line: string) => void = () => undefined,
  now = new Date(),
): Promise<BackupReport> {
  return withBackupFolder(backups, () =>
    writeBackup(db, join(backups, stampOf(now)), now, 'content', (snapshot, folder) =>
      copyFiles(snapshot, media, backups, folder, tell),
    ),
  );
}

/** Backs the database up by itself, inside the data folder; the media store stays where it is. */
export async function backUpDatabase(db: Database, folder: string, now = new Date()): Promise<BackupReport> {
  return withBackupFolder(dirname(folder), () =>
    writeBackup(db, folder, now, 'data', async (_snapshot, partial) => {
      await writeFile(join(partial, FILES), '');
      return {
        listed: { rows: 0, bytes: 0, sha256: createHash('sha256').digest('hex') },
        bytes: 0,
        newBytes: 0,
        faults: [],
      };
    }),
  );
}

interface Copied {
  readonly listed: Manifest['files'];
  readonly bytes: number;
  readonly newBytes: number;
  readonly faults: readonly string[];
}

async function writeBackup(
  db: Database,
  folder: string,
  now: Date,
  mediaIn: Manifest['media'],
  copy: (snapshot: Snapshot, partial: string) => Promise<Copied>,
): Promise<BackupReport> {
  const parent = dirname(folder);
  if (await isThere(folder))
    throw new BackupBusy(msg('{folder} already exists. Try again in a second.', { folder }));
  const before = await Promise.all((await readdir(parent)).map((name) => sequenceOf(join(parent, name))));
  const sequence = Math.max(0, ...before) + 1;
  const partial = `${folder}${PARTIAL}`;
  await mkdir(partial, { recursive: true, mode: 0o700 });
  try {
    return await db.snapshot(async (snapshot) => {
      const tables = await dumpTables(snapshot, join(partial, DATABASE));
      const migrations = await snapshot.many(
        (row) => String(row.name),
        'SELECT name FROM migrations ORDER BY name',
      );
      const { listed, bytes, newBytes, faults } = await copy(snapshot, partial);
      const made: Manifest = {
        ...{ format: 'oiseau-backup', version: 1, oiseau: VERSION, at: now.toISOString() },
        ...{ migrations, media: mediaIn, tables, files: listed, sequence },
      };
      const sealed = { ...made, sum: sumOfManifest(made) };
      await writeFile(join(partial, MANIFEST), `${JSON.stringify(sealed, null, 2)}\n`);
      await syncFile(join(partial, MANIFEST));
      await rename(partial, folder);
      return { folder, files: listed.rows, bytes, newBytes, faults };
    });
  } catch (error) {
    await rm(partial, { recursive: true, force: true });
    throw error;
  }
}

const isThere = (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  );

/** The place of a backup among those of its folder; 0 where it has none, or is no backup. */
export async function sequenceOf(folder: string): Promise<number> {
  try {
    const path = await regularFile(folder, MANIFEST);
    return path === null ? 0 : manifest.parse(JSON.parse(await readFile(path, 'utf8'))).sequence;
  } catch {
    return 0;
  }
}

/** Takes every kept file into the content, and lists it. */
async function copyFiles(
  snapshot: Snapshot,
  media: MediaStore,
  backups: string,
  folder: string,
  tell: (line: string) => void,
): Promise<Copied> {
  const list = await open(join(folder, FILES), 'wx');
  const hash = createHash('sha256');
  const faults: string[] = [];
  let [rows, listBytes, bytes, newBytes] = [0, 0, 0, 0];
  try {
    for await (const file of keptFiles(snapshot, media)) {
      const taken = await takeFile(media, backups, file);
      if ('fault' in taken) {
        faults.push(`${file.called} ${taken.fault}; the backup lacks it.`);
        continue;
      }
      const line = Buffer.from(`${JSON.stringify(taken.listed satisfies ListedFile)}\n`);
      hash.update(line);
      await list.write(line);
      rows++;
      listBytes += line.length;
      bytes += taken.listed.bytes;
      if (taken.isNew) newBytes += taken.listed.bytes;
      if (rows % 500 === 0) tell(`${rows} files, ${Math.round(bytes / 1e6)} MB …`);
    }
    await list.sync();
  } finally {
    await list.close();
  }
  return { listed: { rows, bytes: listBytes, sha256: hash.digest('hex') }, bytes, newBytes, faults };
}

type Taken = { readonly listed: ListedFile; readonly isNew: boolean } | { readonly fault: string };

async function takeFile(
  media: MediaStore,
  backups: string,
  { path, sha256, bytes }: KeptFile,
): Promise<Taken> {
  const from = join(media.root, path);
  const size = (await stat(from).catch(() => null))?.size;
  if (size === undefined) return { fault: 'is missing' };
  if (bytes !== null && size !== bytes) return { fault: `has ${size} bytes instead of ${bytes}` };
  const listed = (sum: string): ListedFile => ({ path, bytes: size, sha256: sum });
  if (sha256 !== null && (await hasContent(backups, sha256, size)))
    return { listed: listed(sha256), isNew: false };
  const scratch = join(backups, 'content', `${process.pid}${PARTIAL}`);
  await mkdir(dirname(scratch), { recursive: true, mode: 0o700 });
  await rm(scratch, { force: true });
  try {
    // A second name costs nothing where the backup lies on the same disk; elsewhere the bytes are copied.
    await link(from, scratch).catch(() => copyFile(from, scratch, constants.COPYFILE_EXCL));
    const sum = await digestFile(scratch, 'sha256');
    if (sha256 !== null && sum !== sha256) return { fault: 'has changed on the disk' };
    if (await hasContent(backups, sum, size)) return { listed: listed(sum), isNew: false };
    await syncFile(scratch);
    const place = contentPath(backups, sum);
    await mkdir(dirname(place), { recursive: true, mode: 0o700 });
    await rename(scratch, place);
    return { listed: listed(sum), isNew: true };
  } catch (error) {
    if (systemCode(error) === 'ENOENT') return { fault: 'is missing' };
    throw error;
  } finally {
    await rm(scratch, { force: true });
  }
}

const hasContent = async (backups: string, sha256: string, bytes: number): Promise<boolean> =>
  (await stat(contentPath(backups, sha256)).catch(() => null))?.size === bytes;

/** Of the backups that were made by themselves only the newest stay. @param most how many; those that people put there are none of ours */
export async function keepNewest(folder: string, most: number): Promise<void> {
  const names = (await readdir(folder).catch(() => [])).filter((name) =>
    /^\d{8}T\d{6}Z before \d{3}$/.test(name),
  );
  const own = await Promise.all(
    names.map(async (name) => ({ name, sequence: await sequenceOf(join(folder, name)) })),
  );
  own.sort((a, b) => a.sequence - b.sequence || (a.name < b.name ? -1 : 1));
  for (const { name } of own.slice(0, Math.max(0, own.length - most)))
    await rm(join(folder, name), { recursive: true, force: true });
}

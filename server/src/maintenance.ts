import { isDiskFull } from '@oiseau/host';
import { Failure } from '@oiseau/audio/errors';
import { backUp } from './maintenance/backup.js';
import { storeVerifyReport } from './maintenance/report-repository.js';
import { openBackup, restore, verifyBackup } from './maintenance/restore.js';
import { verifyStore } from './maintenance/verify.js';
import { readConfig } from './config.js';
import { isAway } from './db/away.js';
import { damageHelp, isDamaged } from './db/damaged.js';
import { Database } from './db/database.js';
import { migrate } from './db/migrate.js';
import { MediaStore } from './media/media-store.js';
import { markRestored } from './media/store-id.js';

/* Backup, restore and verify, run by scripts/maintenance.ts. Exit status 0: success. 1: done, and problems were found. 2: failed. */

const say = (line: string): void => void process.stdout.write(`${line}\n`);
const megabytes = (bytes: number): string => `${Math.round(bytes / 1e6)} MB`;

/** A number as it comes, at most every two seconds. */
function now_and_then(): (line: () => string) => void {
  let last = performance.now();
  return (line) => {
    if (performance.now() - last < 2000) return;
    last = performance.now();
    say(line());
  };
}

/** Tells what is wrong. @returns the exit status */
function told(faults: readonly string[], whole: string): number {
  for (const fault of faults) say(fault);
  if (faults.length === 0) say(whole);
  return faults.length === 0 ? 0 : 1;
}

async function withStore(work: (db: Database, media: MediaStore) => Promise<number>): Promise<number> {
  const config = readConfig(process.env);
  const db = Database.connect(config.database);
  try {
    return await work(db, new MediaStore(config.media, config.reserve));
  } finally {
    await db.close();
  }
}

async function run(command: string | undefined, path = ''): Promise<number> {
  const soon = now_and_then();
  switch (command) {
    case 'backup':
      return withStore(async (db, media) => {
        await migrate(db);
        const { folder, files, bytes, newBytes, faults } = await backUp(db, media, path, say);
        say(`${folder}: ${files} files, ${megabytes(bytes)}, of which ${megabytes(newBytes)} are new.`);
        return told(faults, 'Everything is in the backup.');
      });
    case 'restore':
      return withStore(async (db, media) => {
        await media.prepare();
        const faults = await restore(await openBackup(path), db, media, say);
        await markRestored(db, media);
        return told(faults, 'Everything is restored.');
      });
    case 'verify':
      return withStore(async (db, media) => {
        await migrate(db);
        const report = await verifyStore(db, media, async (done, total) => {
          soon(() => `${megabytes(done)} of ${megabytes(total)} …`);
          return Promise.resolve();
        });
        await storeVerifyReport(db, report);
        for (const { words } of report.faults.filter(({ healed }) => healed)) say(words);
        return told(
          report.faults.filter(({ healed }) => !healed).map(({ words }) => words),
          `${report.files} files, ${megabytes(report.bytes)}: all intact.`,
        );
      });
    case 'verify-backup': {
      const backup = await openBackup(path);
      const faults = await verifyBackup(backup, (files) => soon(() => `${files} files …`));
      return told(faults, `${backup.folder} is whole: ${backup.manifest.files.rows} files.`);
    }
    default:
      throw new RangeError(`no such command: ${String(command)}`);
  }
}

try {
  process.exitCode = await run(...(process.argv.slice(2) as [string?, string?]));
} catch (error) {
  const words = isDiskFull(error)
    ? 'The disk is full. Incomplete files were removed.'
    : isDamaged(error)
      ? `A table of the database is damaged. ${damageHelp()}`
      : isAway(error)
        ? 'The database became unavailable. Incomplete files were removed. Start it and try again.'
        : error instanceof Failure || error instanceof Error
          ? error.message
          : String(error);
  process.stderr.write(`${words}\n`);
  process.exitCode = 2;
}

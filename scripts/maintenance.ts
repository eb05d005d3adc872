// npm run backup -- FOLDER · npm run restore -- BACKUP [DATA] · npm run verify [-- BACKUP]: what is kept, backed up, brought back, looked over.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { readdir, rename, rm } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { ensureBuilt, ROOT } from './build.mjs';
import { withDatabaseOf } from './run.js';
import { installMissing, messageOf, NEEDED, Plain } from './system.js';

const USAGE = `npm run backup -- FOLDER            a backup of the data folder, also while Oiseau runs
npm run restore -- BACKUP [DATA]    a data folder (which must not be there yet) out of a backup
npm run verify                      reads every file and document of the data folder
npm run verify -- BACKUP            reads a backup from end to end
OISEAU_DATA names the data folder; without it, it is data/.`;

/** Runs one of the commands of maintenance in an environment. @returns its exit status */
async function runMaintenance(env: NodeJS.ProcessEnv, ...args: string[]): Promise<number> {
  const program = join(ROOT, 'dist/maintenance.mjs');
  const child = spawn(process.execPath, ['--enable-source-maps', program, ...args], {
    env,
    stdio: 'inherit',
  });
  const [status] = (await once(child, 'exit')) as [number | null];
  return status ?? 1;
}

/** The data folder is made beside its place and gets its name when it is whole. */
async function restoreInto(backup: string, data: string): Promise<number> {
  if (existsSync(data) && (await readdir(data)).length > 0)
    throw new Plain(`${data} isn’t empty. Name a folder that doesn’t exist yet.`);
  const partial = `${data}.restoring`;
  await rm(partial, { recursive: true, force: true });
  const status = await withDatabaseOf(partial, (env) => runMaintenance(env, 'restore', backup)).catch(
    async (error: unknown) => {
      await rm(partial, { recursive: true, force: true });
      throw error;
    },
  );
  // With 1 files are missing that the backup had lost; what there is, is there.
  if (status > 1) await rm(partial, { recursive: true, force: true });
  else {
    await rm(data, { recursive: true, force: true });
    await rename(partial, data);
    console.log(`${data} was restored. Start it with OISEAU_DATA=${data} npm start.`);
  }
  return status;
}

/** Commands with the fewest and the most paths that they take. */
const COMMANDS = new Map([
  ['backup', [1, 1]],
  ['restore', [1, 2]],
  ['verify', [0, 1]],
] as const);

async function main([command = '', ...given]: readonly string[]): Promise<number> {
  const paths = given.map((path) => resolve(process.env.INIT_CWD ?? '.', path));
  const data = resolve(process.env.OISEAU_DATA ?? join(ROOT, 'data'));
  const wanted = COMMANDS.get(command as 'backup');
  if (!wanted || paths.length < wanted[0] || paths.length > wanted[1]) throw new Plain(USAGE);
  installMissing(NEEDED);
  await ensureBuilt(['maintenance'], (line) => console.log(line));
  const [first, second] = paths;
  if (command === 'restore' && first !== undefined) return restoreInto(first, second ?? data);
  if (command === 'verify' && first !== undefined) return runMaintenance(process.env, 'verify-backup', first);
  if (!existsSync(data)) throw new Plain(`No data folder exists at ${data}.`);
  return withDatabaseOf(data, (env) => runMaintenance(env, command, ...paths));
}

main(process.argv.slice(2)).then(
  (status) => (process.exitCode = status),
  (error: unknown) => {
    console.error(error instanceof Plain ? error.message : `The command failed: ${messageOf(error)}`);
    process.exitCode = 2;
  },
);

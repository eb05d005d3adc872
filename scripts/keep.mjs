// npm run backup -- FOLDER · npm run restore -- BACKUP [DATA] · npm run verify [-- BACKUP]: what is kept, backed up, brought back, looked over.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { readdir, rename, rm } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { ensureBuilt, ROOT } from './build.mjs';
import { withDatabaseOf } from './run.mjs';
import { installMissing, installPackages, NEEDED, Plain } from './system.mjs';

const USAGE = `npm run backup -- FOLDER            a backup of the data folder, also while Oiseau runs
npm run restore -- BACKUP [DATA]    a data folder (which must not be there yet) out of a backup
npm run verify                      reads every file and document of the data folder
npm run verify -- BACKUP            reads a backup from end to end
OISEAU_DATA names the data folder; without it, it is data/.`;

/** Runs one of the keeper's commands in an environment. @returns its exit status */
async function keeper(env, ...args) {
  const program = join(ROOT, 'dist/keeper.mjs');
  const child = spawn(process.execPath, ['--enable-source-maps', program, ...args], {
    env,
    stdio: 'inherit',
  });
  const [status] = await once(child, 'exit');
  return status ?? 1;
}

/** The data folder is made beside its place and gets its name when it is whole. */
async function restoreInto(backup, data) {
  if (existsSync(data) && (await readdir(data)).length > 0)
    throw new Plain(`${data} is not empty; name a data folder that is not there yet.`);
  const partial = `${data}.restoring`;
  await rm(partial, { recursive: true, force: true });
  const status = await withDatabaseOf(partial, (env) => keeper(env, 'restore', backup)).catch(
    async (error) => {
      await rm(partial, { recursive: true, force: true });
      throw error;
    },
  );
  // With 1 files are missing that the backup had lost; what there is, is there.
  if (status > 1) await rm(partial, { recursive: true, force: true });
  else {
    await rm(data, { recursive: true, force: true });
    await rename(partial, data);
    console.log(`${data} is restored. Start it with OISEAU_DATA=${data} npm start.`);
  }
  return status;
}

async function main([command, ...given]) {
  const paths = given.map((path) => resolve(process.env.INIT_CWD ?? '.', path));
  const data = resolve(process.env.OISEAU_DATA ?? join(ROOT, 'data'));
  const wanted = { backup: [1, 1], restore: [1, 2], verify: [0, 1] }[command];
  if (!wanted || paths.length < wanted[0] || paths.length > wanted[1]) throw new Plain(USAGE);
  installMissing(NEEDED);
  await installPackages();
  await ensureBuilt(['keeper'], (line) => console.log(line));
  if (command === 'restore') return restoreInto(paths[0], paths[1] ?? data);
  if (paths.length === 1 && command === 'verify') return keeper(process.env, 'verify-backup', paths[0]);
  if (!existsSync(data)) throw new Plain(`There is no data folder at ${data}.`);
  return withDatabaseOf(data, (env) => keeper(env, command, ...paths));
}

main(process.argv.slice(2)).then(
  (status) => (process.exitCode = status),
  (error) => {
    console.error(error instanceof Plain ? error.message : `This could not be done: ${error.message}`);
    process.exitCode = 2;
  },
);

import { chmod, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { syncFile, systemCode } from '@oiseau/host';
import { newSecret } from './key-repository.js';

/** Where the first key lies, readable by its owner alone. */
const fileOf = (data: string): string => join(data, 'access-key');

const KEY = /^[\w-]{40,200}$/;

/** The first key of a data folder, made where there is none, or none that can be read. Deleting the file gives a new one at the next start. */
export async function firstKeyOf(data: string): Promise<string> {
  const path = fileOf(data);
  try {
    await writeFile(path, `${newSecret()}\n`, { mode: 0o600, flag: 'wx' });
  } catch (error) {
    if (systemCode(error) !== 'EEXIST') throw error;
    await chmod(path, 0o600);
  }
  const key = (await readFile(path, 'utf8')).trim();
  if (KEY.test(key)) return key;
  // An emptied or truncated file counts as a deleted one: its key no longer opens anything.
  const made = newSecret();
  await writeFile(`${path}.new`, `${made}\n`, { mode: 0o600 });
  await syncFile(`${path}.new`);
  await rename(`${path}.new`, path);
  return made;
}

import { chmod, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { systemCode } from '@oiseau/host';
import { newSecret } from './key-repository.js';

/** Where the first key lies, readable by its owner alone. */
const fileOf = (data: string): string => join(data, 'access-key');

/** The first key of a data folder, made where there is none. Whoever takes the file away gets a new one at the next start. */
export async function firstKeyOf(data: string): Promise<string> {
  const path = fileOf(data);
  try {
    await writeFile(path, `${newSecret()}\n`, { mode: 0o600, flag: 'wx' });
  } catch (error) {
    if (systemCode(error) !== 'EEXIST') throw error;
    await chmod(path, 0o600);
  }
  const key = (await readFile(path, 'utf8')).trim();
  if (!/^[\w-]{40,200}$/.test(key))
    throw new Error(`${path} holds no key; take the file away, and a new one is made at the next start.`);
  return key;
}

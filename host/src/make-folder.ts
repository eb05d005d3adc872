import { mkdir, stat } from 'node:fs/promises';
import { dirname, resolve } from 'node:path';
import { systemCode } from './errors.js';

/**
 * Makes a folder, and those above it that are missing, one at a time: Node's own recursive way never comes back where none can be made, as
 * below /proc.
 * @throws the system's own error
 */
export async function makeFolder(path: string): Promise<void> {
  const missing: string[] = [];
  for (let at = resolve(path); !(await isFolder(at)); at = dirname(at)) {
    missing.push(at);
    if (dirname(at) === at) break;
  }
  for (const folder of missing.reverse())
    await mkdir(folder).catch(async (error: unknown) => {
      // Another process may have created it meanwhile.
      if (systemCode(error) !== 'EEXIST' || !(await isFolder(folder))) throw error;
    });
}

const isFolder = async (path: string): Promise<boolean> =>
  (await stat(path).catch(() => null))?.isDirectory() === true;

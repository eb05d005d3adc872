import { msg } from '@oiseau/messages';
import { lstat, readdir, readFile, realpath, rename, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, join, relative, sep } from 'node:path';
import { Failure } from '@oiseau/audio/errors';
import * as z from 'zod';
import { makeFolder } from './make-folder.js';
import { systemCode } from './errors.js';

/** A folder that stands where a deliverable should go and that is not ours to replace. */
export class TargetRefused extends Failure {
  override readonly name = 'TargetRefused';
  readonly code = 'target-refused';
  readonly status = 409;
}

/** Says of a folder that it is a render under way, or one that a killed process has left. */
const MARKER = '.oiseau-render';
const PROOF = 'proof.json';
const listed = z.object({ files: z.array(z.object({ path: z.string() })) });

/** Where a render works before it is complete: beside its target, so that the last step is a rename. */
export const partialFolder = (target: string): string =>
  join(dirname(target), `.${basename(target)}.partial`);
/** Where the render that stood there before waits until the new one stands. */
const asideFolder = (target: string): string => join(dirname(target), `.${basename(target)}.before`);

const isThere = async (path: string): Promise<boolean> =>
  lstat(path).then(
    () => true,
    () => false,
  );

/** Everything in a folder but folders, by its path in there. */
async function contents(folder: string): Promise<string[]> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  return entries
    .filter((entry) => !entry.isDirectory())
    .map((entry) => relative(folder, join(entry.parentPath, entry.name)).split(sep).join('/'));
}

/**
 * Makes sure that a folder may be replaced: it is not there, or it holds an earlier proof and nothing that this does not list.
 * @param kept files that are never replaced, whatever a proof says: the album and its masters
 * @throws TargetRefused, which names what stands in the way
 */
export async function demandReplaceable(target: string, kept: readonly string[] = []): Promise<void> {
  const found = await lstat(target).catch((error: unknown) => {
    if (systemCode(error) === 'ENOENT') return null;
    throw error;
  });
  if (!found) return;
  const refuse = (why: string): never => {
    throw new TargetRefused(msg('{target} was not replaced: {why}.', { target, why }));
  };
  if (!found.isDirectory()) return refuse('it isn’t a folder');
  const real = await realpath(target);
  for (const path of kept)
    if ((await realpath(path)).startsWith(real + sep)) refuse(`it contains ${path}, which the album uses`);
  const names = await contents(target);
  if (names.length === 0) return;
  if (!names.includes(PROOF)) return refuse('it has no proof.json, so it wasn’t written by a render');
  let known: ReadonlySet<string>;
  try {
    const proof = listed.parse(JSON.parse(await readFile(join(target, PROOF), 'utf8')));
    known = new Set([PROOF, ...proof.files.map(({ path }) => path)]);
  } catch {
    return refuse('its proof.json wasn’t written by a render');
  }
  const other = names.find((name) => !known.has(name));
  if (other !== undefined) refuse(`it contains “${other}”, which its proof.json does not list`);
}

/**
 * Makes the folder in which a render works, and clears what a killed one has left.
 * @throws TargetRefused where a folder of that name is none of ours
 */
export async function beginPartial(target: string): Promise<string> {
  const [partial, aside] = [partialFolder(target), asideFolder(target)];
  // Killed between two names: what stood there before stands there again.
  if (await isThere(aside)) {
    if (await isThere(target)) await clear(aside, demandReplaceable);
    else await rename(aside, target);
  }
  await clear(partial, async (folder) => {
    const names = await contents(folder);
    if (names.length > 0 && !names.includes(MARKER))
      throw new TargetRefused(msg('{folder} was not removed: it isn’t an interrupted render.', { folder }));
  });
  await makeFolder(partial);
  await writeFile(join(partial, MARKER), '');
  return partial;
}

/** Removes a folder that `demand` finds to be ours. */
async function clear(folder: string, demand: (folder: string) => Promise<void>): Promise<void> {
  if (!(await isThere(folder))) return;
  await demand(folder);
  await rm(folder, { recursive: true, force: true });
}

/** Puts a complete render in its place. The one that stood there before goes only when the new one stands. */
export async function completePartial(
  partial: string,
  target: string,
  kept: readonly string[],
): Promise<void> {
  await rm(join(partial, MARKER), { force: true });
  await demandReplaceable(target, kept);
  const aside = asideFolder(target);
  const replaced = await isThere(target);
  if (replaced) await rename(target, aside);
  try {
    await rename(partial, target);
  } catch (error) {
    if (replaced) await rename(aside, target);
    throw error;
  }
  await rm(aside, { recursive: true, force: true });
}

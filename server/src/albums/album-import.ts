import { msg } from '@oiseau/messages';
import { randomUUID } from 'node:crypto';
import { openTo, opensMaster } from '../access/authorization.js';
import type { Visitor } from '../access/visitor.js';
import type { ComputePool, PreparedFile } from '../http/compute-pool.js';
import type { Database, Db } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import { findMaster, linkMaster, mastersNamed, type MasterRecord } from '../masters/master-repository.js';
import { insertDocument } from './album-repository.js';

const baseName = (name: string): string => name.replace(/^.*[/\\]/, '');

/**
 * Makes an album of an album file, and gives its id. Masters are looked for among those alone that the visitor's key opens.
 * @throws ApiError 422 for a file that can't be used, or masters that are missing
 */
export async function importAlbum(
  db: Database,
  pool: Pick<ComputePool, 'albumDocument'>,
  visitor: Visitor,
  file: PreparedFile,
): Promise<string> {
  demandUsable(file);
  const found = await findMasters(db, visitor, file);
  const document = await pool.albumDocument(file.text, found);
  const id = randomUUID();
  await db.transaction(async (transaction) => {
    await insertDocument(transaction, id, document);
    await openTo(transaction, visitor, id);
    for (const [name, content] of found) await linkMaster(transaction, id, content, baseName(name));
  });
  return id;
}

/** Which masters a file needs, and which of them are here already under that name. */
export async function neededMasters(
  db: Db,
  visitor: Visitor,
  file: PreparedFile,
): Promise<{ name: string; here: boolean }[]> {
  demandUsable(file);
  const here: { name: string; here: boolean }[] = [];
  for (const name of file.names)
    here.push({ name, here: (await openedMaster(db, visitor, name, file.sums.get(name))) !== undefined });
  return here;
}

/** The master of a sum, or where the file names none the newest of a name, if the key opens it. */
async function openedMaster(
  db: Db,
  visitor: Visitor,
  name: string,
  sum: string | undefined,
): Promise<MasterRecord | undefined> {
  if (sum !== undefined) return (await opensMaster(db, visitor, sum)) ? findMaster(db, sum) : undefined;
  for (const master of await mastersNamed(db, baseName(name)))
    if (await opensMaster(db, visitor, master.sha256)) return master;
  return undefined;
}

/** @throws ApiError 422 with the first fault, and all of them in its details */
function demandUsable({ problems }: PreparedFile): void {
  if (problems.length > 0)
    throw new ApiError(
      422,
      msg("The album file can't be used. {problems}", { problems: problems[0] ?? '' }),
      { problems },
    );
}

/** @throws ApiError naming every master that is neither brought along nor on the Shelf */
async function findMasters(
  db: Db,
  visitor: Visitor,
  { names, sums, masters: given }: PreparedFile,
): Promise<Map<string, string>> {
  const found = new Map<string, string>();
  const missing: string[] = [];
  for (const name of names) {
    const brought = Object.hasOwn(given, name) ? given[name] : undefined;
    const master =
      brought === undefined
        ? await openedMaster(db, visitor, name, sums.get(name))
        : (await opensMaster(db, visitor, brought))
          ? await findMaster(db, brought)
          : undefined;
    if (master && master.sha256 !== (sums.get(name) ?? master.sha256))
      throw new ApiError(
        422,
        msg('“{name}” isn’t the master named in the album file: its SHA-256 differs.', { name }),
      );
    if (master) found.set(name, master.sha256);
    else missing.push(name);
  }
  if (missing.length > 0)
    throw new ApiError(422, msg('Masters are missing: {list}.', { list: missing.join(', ') }), { missing });
  return found;
}

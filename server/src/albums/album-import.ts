import { randomUUID } from 'node:crypto';
import {
  AlbumFileError,
  albumFromFile,
  mastersInFile,
  parseAlbumFile,
  sumsInFile,
  type AlbumFile,
} from '@oiseau/core';
import { openTo, opensMaster } from '../access/doors.js';
import type { Visitor } from '../access/visitor.js';
import type { Database, Db } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import { findMaster, linkMaster, mastersNamed, type MasterRecord } from '../masters/master-repository.js';
import { insertAlbum } from './album-repository.js';

const baseName = (name: string): string => name.replace(/^.*[/\\]/, '');

/**
 * Makes an album of the text of an album file, and gives its id. Masters are looked for among those alone that the visitor's key opens.
 * @param given SHA-256 of each master by the name in the file; names left out are looked up on the Shelf
 * @throws ApiError 422 for a file that can't be used, or masters that are missing
 */
export async function importAlbum(
  db: Database,
  visitor: Visitor,
  text: string,
  given: Readonly<Record<string, string>>,
): Promise<string> {
  const file = parseForImport(text);
  const id = randomUUID();
  await db.transaction(async (transaction) => {
    const found = await findMasters(transaction, visitor, file, given);
    const album = albumFromFile(
      { ...file, artwork: null },
      (name) => found.get(name) ?? '',
      () => randomUUID(),
    );
    await insertAlbum(transaction, id, album);
    await openTo(transaction, visitor, id);
    for (const [name, content] of found) await linkMaster(transaction, id, content, baseName(name));
  });
  return id;
}

/** Which masters a file needs, and which of them are here already under that name. */
export async function neededMasters(
  db: Db,
  visitor: Visitor,
  text: string,
): Promise<{ name: string; here: boolean }[]> {
  const file = parseForImport(text);
  const sums = sumsInFile(file);
  const here: { name: string; here: boolean }[] = [];
  for (const name of mastersInFile(file))
    here.push({ name, here: (await openedMaster(db, visitor, name, sums.get(name))) !== undefined });
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

function parseForImport(text: string): AlbumFile {
  try {
    return parseAlbumFile(text);
  } catch (error) {
    if (!(error instanceof AlbumFileError)) throw error;
    throw new ApiError(
      422,
      `The album file can't be used. ${error.problems[0] ?? ''}`,
      { problems: error.problems },
      { cause: error },
    );
  }
}

/** @throws ApiError naming every master that is neither brought along nor on the Shelf */
async function findMasters(
  db: Db,
  visitor: Visitor,
  file: AlbumFile,
  given: Readonly<Record<string, string>>,
): Promise<Map<string, string>> {
  const found = new Map<string, string>();
  const missing: string[] = [];
  const sums = sumsInFile(file);
  for (const name of mastersInFile(file)) {
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
        `“${name}” is not the master that the album file means; its SHA-256 is another.`,
      );
    if (master) found.set(name, master.sha256);
    else missing.push(name);
  }
  if (missing.length > 0) throw new ApiError(422, `Masters are missing: ${missing.join(', ')}.`, { missing });
  return found;
}

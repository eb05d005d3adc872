import { randomUUID } from 'node:crypto';
import { AlbumFileError, albumFromFile, mastersInFile, parseAlbumFile, type AlbumFile } from '@oiseau/core';
import type { Database, Db } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import { findMaster, linkMaster, mastersNamed } from '../masters/master-repository.js';
import { insertAlbum } from './album-repository.js';

const baseName = (name: string): string => name.replace(/^.*[/\\]/, '');

/**
 * Makes an album of the text of an album file, and gives its id.
 * @param given SHA-256 of each master by the name in the file; names left out are looked up on the Shelf
 * @throws ApiError 422 for a file that can't be used, or masters that are missing
 */
export async function importAlbum(
  db: Database,
  text: string,
  given: Readonly<Record<string, string>>,
): Promise<string> {
  const file = parseForImport(text);
  const id = randomUUID();
  await db.transaction(async (transaction) => {
    const found = await findMasters(transaction, file, given);
    const album = albumFromFile(
      { ...file, artwork: null },
      (name) => found.get(name) ?? '',
      () => randomUUID(),
    );
    await insertAlbum(transaction, id, album);
    for (const [name, content] of found) await linkMaster(transaction, id, content, baseName(name));
  });
  return id;
}

/** Which masters a file needs, and which of them are here already under that name. */
export async function neededMasters(db: Db, text: string): Promise<{ name: string; here: boolean }[]> {
  const names = mastersInFile(parseForImport(text));
  const here = await Promise.all(names.map((name) => mastersNamed(db, baseName(name))));
  return names.map((name, i) => ({ name, here: (here[i]?.length ?? 0) > 0 }));
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
  file: AlbumFile,
  given: Readonly<Record<string, string>>,
): Promise<Map<string, string>> {
  const found = new Map<string, string>();
  const missing: string[] = [];
  for (const name of mastersInFile(file)) {
    const brought = given[name];
    const master =
      brought === undefined ? (await mastersNamed(db, baseName(name)))[0] : await findMaster(db, brought);
    if (master) found.set(name, master.sha256);
    else missing.push(name);
  }
  if (missing.length > 0) throw new ApiError(422, `Masters are missing: ${missing.join(', ')}.`, { missing });
  return found;
}

import { readFile } from 'node:fs/promises';
import { dirname, resolve } from 'node:path';
import {
  AlbumFileError,
  albumFromFile,
  AudioRefused,
  layOutAlbum,
  mastersInFile,
  parseAlbumFile,
  type PcmSource,
  type Album,
  type CoverFacts,
  type Part,
} from '@oiseau/core';
import { coverFacts, openMaster, systemCode, type OpenMaster } from '@oiseau/host';
import { UsageError } from './exit.js';

/** An album file with its masters open beside it. */
export interface AlbumOnDisk {
  readonly album: Album;
  /** The album laid out. */
  readonly parts: readonly Part[];
  /** By the name in the file. */
  readonly masters: ReadonlyMap<string, PcmSource>;
  /** The picture that the file names. */
  readonly cover: { readonly path: string; readonly facts: CoverFacts } | null;
  close(): Promise<void>;
}

/** @throws UsageError when the file or a master can't be used, with a line for each fault */
export async function openAlbum(path: string): Promise<AlbumOnDisk> {
  const file = parse(path, await readText(path));
  const masters = new Map<string, PcmSource>();
  const opened: OpenMaster[] = [];
  const faults: string[] = [];
  for (const name of mastersInFile(file)) {
    try {
      const master = await openMaster(resolve(dirname(path), name));
      opened.push(master);
      masters.set(name, master.source);
    } catch (error) {
      faults.push(`${name}: ${masterFault(error)}`);
    }
  }
  const cover = file.artwork === null ? null : await openCover(resolve(dirname(path), file.artwork));
  if (cover === undefined)
    faults.push(`${file.artwork}: the cover is no JPEG or PNG picture that can be read.`);
  const close = async (): Promise<void> => {
    await Promise.all(opened.map((master) => master.close()));
  };
  if (faults.length > 0 || cover === undefined) {
    await close();
    throw new UsageError(faults.join('\n'));
  }
  const album = albumFromFile(
    file,
    (name) => name,
    (number) => `track-${number}`,
  );
  return { album, masters, cover, close, parts: layOutAlbum(album, masters) };
}

/** undefined: it can't be used. */
async function openCover(path: string): Promise<AlbumOnDisk['cover'] | undefined> {
  try {
    const facts = await coverFacts(path);
    return facts ? { path, facts } : undefined;
  } catch (error) {
    if (systemCode(error)) return undefined;
    throw error;
  }
}

async function readText(path: string): Promise<string> {
  try {
    return await readFile(path, 'utf8');
  } catch (error) {
    throw new UsageError(
      `${path}: ${systemCode(error) === 'ENOENT' ? 'no such file.' : 'the file could not be read.'}`,
      { cause: error },
    );
  }
}

function parse(path: string, text: string): ReturnType<typeof parseAlbumFile> {
  try {
    return parseAlbumFile(text);
  } catch (error) {
    if (!(error instanceof AlbumFileError)) throw error;
    throw new UsageError(error.problems.map((problem) => `${path}: ${problem}`).join('\n'), { cause: error });
  }
}

function masterFault(error: unknown): string {
  if (error instanceof AudioRefused) return error.message;
  return systemCode(error) === 'ENOENT' ? 'the master is missing.' : 'the master could not be read.';
}

import { readFile, stat } from 'node:fs/promises';
import { dirname, resolve } from 'node:path';
import { AlbumFileError, albumFromFile, mastersInFile, parseAlbumFile, sumsInFile } from '@oiseau/album/file';
import { AudioRefused, type PcmFileSource } from '@oiseau/audio/pcm';
import { layOutAlbum, type Part } from '@oiseau/album/layout';
import type { Album } from '@oiseau/album/model';
import type { CoverFacts } from '@oiseau/checks';
import {
  coverFacts,
  demandFile,
  digestFile,
  FileOutside,
  openMaster,
  systemCode,
  type OpenMaster,
} from '@oiseau/host';
import { UsageError } from './exit.js';

/** An album file with its masters open beside it. */
export interface AlbumOnDisk {
  readonly album: Album;
  /** The day of its revision, as the file tells it. */
  readonly revisionDate: string;
  /** The album laid out. */
  readonly parts: readonly Part[];
  /** By the name in the file. */
  readonly masters: ReadonlyMap<string, PcmFileSource>;
  /** How each was coded, by the same name. */
  readonly codings: ReadonlyMap<string, OpenMaster['coding']>;
  /** The album file, its masters and its cover: what a render must never replace. */
  readonly files: readonly string[];
  /** The picture that the file names. */
  readonly cover: { readonly path: string; readonly facts: CoverFacts } | null;
  close(): Promise<void>;
}

/** An album file of more bytes is none. */
const MOST_BYTES = 20_000_000;

/**
 * @param outside whether masters and the cover may lie anywhere, and not only in the album file's folder and below
 * @throws UsageError when the file or a master can't be used, with a line for each fault
 */
export async function openAlbum(path: string, outside = false): Promise<AlbumOnDisk> {
  const file = parse(path, await readText(path));
  const masters = new Map<string, PcmFileSource>();
  const codings = new Map<string, OpenMaster['coding']>();
  const opened: OpenMaster[] = [];
  const faults: string[] = [];
  const folder = outside ? null : dirname(resolve(path));
  const paths = [resolve(path)];
  const sums = sumsInFile(file);
  for (const name of mastersInFile(file)) {
    try {
      const at = resolve(dirname(path), name);
      await demandFile(at, folder);
      paths.push(at);
      const sum = sums.get(name);
      if (sum !== undefined && (await digestFile(at, 'sha256')) !== sum) {
        faults.push(`${name}: this isn’t the master named in the album file: its SHA-256 differs.`);
        continue;
      }
      const master = await openMaster(at);
      opened.push(master);
      masters.set(name, master.source);
      codings.set(name, master.coding);
    } catch (error) {
      faults.push(`${name}: ${masterFault(error)}`);
    }
  }
  const artwork = file.artwork === null ? null : resolve(dirname(path), file.artwork);
  let cover: AlbumOnDisk['cover'] | undefined;
  try {
    cover = artwork === null ? null : await openCover(artwork, folder);
    if (cover === undefined) faults.push(`${file.artwork}: the cover isn’t a readable JPEG or PNG picture.`);
    if (artwork !== null) paths.push(artwork);
  } catch (error) {
    if (!(error instanceof FileOutside)) throw error;
    faults.push(`${file.artwork}: ${error.message}`);
  }
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
  const { revisionDate } = file;
  const parts = layOutAlbum(album, masters);
  return { album, revisionDate, masters, codings, cover, files: paths, close, parts };
}

/** undefined: it can't be used. */
async function openCover(path: string, folder: string | null): Promise<AlbumOnDisk['cover'] | undefined> {
  try {
    await demandFile(path, folder);
    const facts = await coverFacts(path);
    return facts ? { path, facts } : undefined;
  } catch (error) {
    if (systemCode(error)) return undefined;
    throw error;
  }
}

async function readText(path: string): Promise<string> {
  try {
    await demandFile(path, null);
    if ((await stat(path)).size > MOST_BYTES)
      throw new FileOutside('the file is too large for an album file.');
    return await readFile(path, 'utf8');
  } catch (error) {
    if (error instanceof FileOutside) throw new UsageError(`${path}: ${error.message}`, { cause: error });
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
  if (error instanceof AudioRefused || error instanceof FileOutside) return error.message;
  return systemCode(error) === 'ENOENT' ? 'the master is missing.' : 'the master could not be read.';
}

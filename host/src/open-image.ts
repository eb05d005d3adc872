import { readdir, readFile, stat } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import {
  Failure,
  AudioRefused,
  CueSheetError,
  DdpError,
  imageOfCue,
  imageOfDdp,
  PcmFileSource,
  readCueSheet,
  readDdp,
  type CueSheet,
  type DiscImage,
  type PcmSource,
} from '@oiseau/core';
import { FileByteSource } from './file-source.js';
import { withDdpFolder } from './ddp-folder.js';
import { systemCode } from './errors.js';
import { demandFile, FileOutside } from './files-of-album.js';
import { CodecError } from './ffmpeg-process.js';
import { openMaster } from './open-master.js';

/** Bytes of a cue sheet in the longest script. */
const MOST_CUE_BYTES = 1_200_000;

/** Something that is no disc image, in one sentence. */
export class NoDiscImage extends Failure {
  override readonly name = 'NoDiscImage';
  readonly code = 'no-disc-image';
  readonly status = 422;
}

/** A disc image on disk, read and judged. */
export interface OpenImage {
  readonly image: DiscImage;
  /** Its audio from the first sample on; null when that is missing or can't be read (which the image’s problems tell). */
  readonly audio: PcmSource | null;
  close(): Promise<void>;
}

/**
 * Opens a folder with a disc description or with a cue sheet, or a cue sheet itself.
 * @throws NoDiscImage when it is neither
 */
export async function openImage(path: string): Promise<OpenImage> {
  if (!(await stat(path)).isDirectory()) return openCue(path);
  const names = await readdir(path);
  const cues = names.filter((name) => extname(name).toLowerCase() === '.cue');
  const [cue] = cues;
  if (!names.includes('DDPID') && cue !== undefined) {
    if (cues.length > 1) throw new NoDiscImage(`${cues.length} cue sheets; one image has one.`);
    return openCue(join(path, cue));
  }
  return openDdp(path);
}

async function openDdp(folder: string): Promise<OpenImage> {
  let image: DiscImage;
  try {
    image = imageOfDdp(await withDdpFolder(folder, readDdp));
  } catch (error) {
    if (error instanceof DdpError) throw new NoDiscImage(error.message, { cause: error });
    throw error;
  }
  const words = image.audio && (await openWords(join(folder, image.audio.path)));
  return { image, audio: words?.source ?? null, close: async () => words?.close() };
}

interface Words {
  readonly source: PcmSource;
  close(): Promise<void>;
}

/** The bare words of an image: 16 bit, stereo, 44.1 kHz; null when they are not there. */
async function openWords(path: string): Promise<Words | null> {
  try {
    await demandFile(path, dirname(path));
    const bytes = await FileByteSource.open(path);
    const form = { format: 'int16', order: 'little', validBits: 16, dataOffset: 0, channels: 2 } as const;
    const length = Math.floor(bytes.size / 4);
    const info = { container: 'RIFF', rate: 44_100, length, ...form } as const;
    return { source: new PcmFileSource(info, bytes), close: () => bytes.close() };
  } catch (error) {
    if (systemCode(error) === 'ENOENT' || error instanceof FileOutside) return null;
    throw error;
  }
}

async function openCue(path: string): Promise<OpenImage> {
  let sheet: CueSheet;
  try {
    if ((await stat(path)).size > MOST_CUE_BYTES)
      throw new NoDiscImage('The cue sheet is larger than any disc needs.');
    sheet = readCueSheet(await readFile(path, 'utf8'));
  } catch (error) {
    if (error instanceof CueSheetError) throw new NoDiscImage(error.message, { cause: error });
    throw error;
  }
  // A name from outside must not lead out of its folder.
  const name = basename(sheet.file.replaceAll('\\', '/'));
  const file = join(dirname(path), name);
  const problems: string[] = [];
  const words = await openImageFile(file, sheet.audio === 'BINARY', problems);
  if (!words && problems.length === 0) problems.push(`The image ${sheet.file} is missing.`);
  const sectors = words && Math.ceil((words.source.length / words.source.rate) * 75 - 1e-9);
  const image = imageOfCue({ ...sheet, file: name }, sectors);
  return {
    image: { ...image, problems: [...image.problems, ...problems] },
    audio: words?.source ?? null,
    close: async () => words?.close(),
  };
}

/** The image that a cue sheet names: a file in its folder. */
async function openImageFile(path: string, bare: boolean, problems: string[]): Promise<Words | null> {
  try {
    await demandFile(path, dirname(path));
  } catch (error) {
    if (systemCode(error) === 'ENOENT') return null;
    if (!(error instanceof FileOutside)) throw error;
    problems.push(`The image ${basename(path)} is not opened: it leads elsewhere, or is no file.`);
    return null;
  }
  return bare ? openWords(path) : openAudio(path, problems);
}

async function openAudio(path: string, problems: string[]): Promise<Words | null> {
  try {
    return await openMaster(path);
  } catch (error) {
    if (systemCode(error) === 'ENOENT') return null;
    if (!(error instanceof AudioRefused) && !(error instanceof CodecError)) throw error;
    problems.push(`The image ${basename(path)} could not be read: ${error.message}`);
    return null;
  }
}

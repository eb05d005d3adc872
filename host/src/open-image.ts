import { msg } from '@oiseau/messages';
import { readdir, readFile, stat } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { Failure } from '@oiseau/audio/errors';
import { AudioRefused, JoinedSource, PcmFileSource, type PcmSource } from '@oiseau/audio/pcm';
import {
  CueSheetError,
  DdpError,
  imageOfCue,
  imageOfDdp,
  readCueSheet,
  readDdp,
  type CueSheet,
  type DiscImage,
} from '@oiseau/formats/disc';
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
    if (cues.length > 1)
      throw new NoDiscImage(msg('{count} cue sheets found; an image has one.', { count: cues.length }));
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
    if ((await stat(path)).size > MOST_CUE_BYTES) throw new NoDiscImage(msg('The cue sheet is too large.'));
    sheet = readCueSheet(await readFile(path, 'utf8'));
  } catch (error) {
    if (error instanceof CueSheetError) throw new NoDiscImage(error.message, { cause: error });
    throw error;
  }
  // A name from outside must not lead out of its folder.
  const named = [sheet, ...(sheet.more ?? [])].map(({ file, audio }) => ({
    ...{ audio, file: basename(file.replaceAll('\\', '/')) },
  }));
  const problems: string[] = [];
  const opened: Words[] = [];
  const close = async (): Promise<void> => {
    await Promise.all(opened.map((each) => each.close()));
  };
  try {
    for (const { file, audio } of named) {
      const before = problems.length;
      const words = await openImageFile(join(dirname(path), file), audio === 'BINARY', problems);
      if (words) opened.push(words);
      else if (problems.length === before) problems.push(`The image ${file} is missing.`);
    }
    const [first] = opened;
    const whole = first && opened.length === named.length;
    if (whole && opened.some(({ source }) => source.rate !== first.source.rate)) {
      problems.push('The files of the cue sheet have several sample rates.');
      return { image: judged(null), audio: null, close };
    }
    const source = whole ? joined(opened) : null;
    return { image: judged(source && sectorsOf(opened)), audio: source, close };
  } catch (error) {
    await close();
    throw error;
  }

  function judged(sectors: number[] | null): DiscImage {
    const [only, ...more] = named;
    const image = imageOfCue({ ...sheet, ...only, ...(more.length > 0 && { more }) }, sectors);
    return { ...image, problems: [...image.problems, ...problems] };
  }

  /** Sectors up to the end of each file; a file inside that ends within a sector is told of, as the marks behind it can't be exact. */
  function sectorsOf(all: readonly Words[]): number[] {
    let seconds = 0;
    return all.map(({ source: { length, rate } }, i) => {
      seconds += length / rate;
      const sectors = seconds * 75;
      if (i === all.length - 1) return Math.ceil(sectors - 1e-9);
      if (Math.abs(sectors - Math.round(sectors)) > 1e-6)
        problems.push(`${named[i]?.file ?? ''} does not end on a sector boundary; later marks are rounded.`);
      return Math.round(sectors);
    });
  }
}

const joined = (all: readonly Words[]): PcmSource => {
  const [first] = all;
  return first && all.length === 1 ? first.source : new JoinedSource(all.map(({ source }) => source));
};

/** The image that a cue sheet names: a file in its folder. */
async function openImageFile(path: string, bare: boolean, problems: string[]): Promise<Words | null> {
  try {
    await demandFile(path, dirname(path));
  } catch (error) {
    if (systemCode(error) === 'ENOENT') return null;
    if (!(error instanceof FileOutside)) throw error;
    problems.push(`The image ${basename(path)} can’t be opened: it is a link or not a file.`);
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

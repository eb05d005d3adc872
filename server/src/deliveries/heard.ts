import { msg } from '@oiseau/messages';
import { mkdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { examineMaster, openWav, type PcmInfo } from '@oiseau/audio/pcm';
import { Silhouette } from '@oiseau/audio/measure';
import { FileByteSource, prepareMaster } from '@oiseau/host';
import type { Response } from 'express';
import pLimit from 'p-limit';
import type { ComputePool } from '../http/compute-pool.js';
import { ApiError, notFound } from '../http/api-error.js';
import { IMMUTABLE } from '../http/send-file.js';
import type { MediaStore } from '../media/media-store.js';
import { demandFile, type Rendered } from './rendered.js';

/** The samples of a rendered file, to be read at any place. */
export interface Heard {
  /** Where they lie. */
  readonly file: string;
  readonly info: PcmInfo;
  /** SHA-256 of the rendered file. */
  readonly sha256: string;
}

/** As many files are decoded at a time. */
const decoding = pLimit(2);
/** What is being decoded: several who ask wait for one. */
const underWay = new Map<string, Promise<void>>();

/** The bare words of an image have no head that tells what they are: 44.1 kHz, 16 bit, stereo. */
const wordsInfo = (bytes: number): PcmInfo => ({
  ...{ container: 'RIFF', rate: 44_100, channels: 2, format: 'int16', order: 'little', validBits: 16 },
  ...{ length: Math.floor(bytes / 4), dataOffset: 0 },
});

/**
 * The samples of a rendered file: of a PCM file itself, of a coded one in a decoded copy, which is made on request and deleted after a day.
 * @throws ApiError 404 for a file without audio
 */
export async function heardOf(media: MediaStore, rendered: Rendered, wanted: string): Promise<Heard> {
  const proved = rendered.delivery.proof?.files.find(({ path }) => path === wanted);
  if (!proved || proved.frames === null) throw notFound('audio');
  const { path } = await demandFile(rendered, wanted);
  const { sha256 } = proved;
  if (/\.(dat|bin)$/i.test(wanted)) return { file: path, info: wordsInfo(proved.bytes), sha256 };
  const source = await FileByteSource.open(path);
  try {
    const form = await examineMaster(source, true);
    if (form.kind === 'pcm') return { file: path, info: form.info, sha256 };
  } finally {
    await source.close();
  }
  const copy = media.heard(sha256);
  await (underWay.get(sha256) ?? decodeOnce(media, path, sha256));
  const decoded = await FileByteSource.open(copy);
  try {
    return { file: copy, info: (await openWav(decoded)).info, sha256 };
  } finally {
    await decoded.close();
  }
}

/** Decodes a file unless its copy lies there. */
function decodeOnce(media: MediaStore, path: string, sha256: string): Promise<void> {
  const work = decoding(async () => {
    const copy = media.heard(sha256);
    if (await stat(copy).catch(() => null)) return;
    const scratch = media.scratch();
    try {
      const { decoded, cover } = await prepareMaster(path, true, scratch, {
        demandRoom: (bytes) => media.demandRoom(bytes),
      });
      if (cover) await rm(cover, { force: true });
      if (!decoded) throw new ApiError(409, msg('The file has no audio that can be decoded.'));
      await mkdir(dirname(copy), { recursive: true });
      await rename(decoded, copy);
    } finally {
      await rm(scratch, { force: true });
    }
  }).finally(() => underWay.delete(sha256));
  underWay.set(sha256, work);
  return work;
}

/** The waveform of a rendered file, computed on demand: see `Silhouette`. */
async function outlineOf(
  media: MediaStore,
  pool: ComputePool,
  { file, info, sha256 }: Heard,
): Promise<Buffer> {
  const kept = `${media.heard(sha256)}.outline`;
  const known = await readFile(kept).catch(() => null);
  if (known) return known;
  const made = Buffer.from(await pool.outline(file, info));
  await mkdir(dirname(kept), { recursive: true });
  await writeFile(kept, made);
  return made;
}

/** Sends an outline in coarser steps. @param step points that become one */
export async function sendOutline(
  response: Response,
  media: MediaStore,
  pool: ComputePool,
  heard: Heard,
  step: number,
): Promise<void> {
  const { values } = Silhouette.fromBytes(await outlineOf(media, pool, heard)).coarser(step);
  response.set('Cache-Control', IMMUTABLE).type('application/octet-stream');
  response.send(Buffer.from(values.buffer, values.byteOffset, values.byteLength));
}

import { ENDPOINTS } from '@oiseau/api';
import {
  checkAlbum,
  layOutAlbum,
  PcmFileSource,
  readThrough,
  SilhouetteMeter,
  type Album,
  type Finding,
  type PcmInfo,
} from '@oiseau/core';
import { FileByteSource, NoDiscImage, openImage } from '@oiseau/host';
import { documentText } from '../albums/album-repository.js';
import type { OpenedImage, ReadBody, Unchecked } from '../http/compute-pool.js';

/** Everything that is done apart from the server's own thread; each by its name, with one argument that can be sent there. */
export const TASKS = {
  body({ call, text }: { readonly call: string; readonly text: string }): ReadBody {
    const schema = ENDPOINTS.find(({ method, path }) => `${method} ${path}` === call)?.body;
    let value: unknown;
    try {
      value = JSON.parse(text);
    } catch {
      return { unreadable: true };
    }
    const read = schema?.safeParse(value);
    if (!read) return { unreadable: true };
    return read.success ? { body: read.data } : { issues: read.error.issues };
  },

  check(subject: Unchecked): readonly Finding[] {
    return checkAlbum({ ...subject, parts: layOutAlbum(subject.album, subject.masters) });
  },

  document: (album: Album): string => documentText(album),

  async image(folder: string): Promise<OpenedImage> {
    try {
      const { image, close } = await openImage(folder);
      await close();
      return { image };
    } catch (error) {
      if (error instanceof NoDiscImage) return { none: error.message };
      throw error;
    }
  },

  async outline({ path, info }: { readonly path: string; readonly info: PcmInfo }): Promise<Uint8Array> {
    const source = await FileByteSource.open(path);
    try {
      const pcm = new PcmFileSource(info, source);
      const meter = new SilhouetteMeter(pcm.rate, pcm.length);
      await readThrough(pcm, (block) => meter.push(block));
      const { values } = meter.result();
      return new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
    } finally {
      await source.close();
    }
  },
} as const;

export type TaskName = keyof typeof TASKS;

import { join } from 'node:path';
import type { DdpFolder } from '@oiseau/formats/disc';
import { digestFile } from './checksum.js';
import { FileByteSource } from './file-source.js';
import { systemCode } from './errors.js';
import { demandFile, FileOutside } from './files-of-album.js';

/** Hands a folder on disk to a reader of disc descriptions, and lets go of its files afterwards. */
export async function withDdpFolder<T>(folder: string, read: (files: DdpFolder) => Promise<T>): Promise<T> {
  const opened: FileByteSource[] = [];
  const open = async (path: string): Promise<FileByteSource | null> => {
    try {
      await demandFile(join(folder, path), folder);
      const source = await FileByteSource.open(join(folder, path));
      opened.push(source);
      return source;
    } catch (error) {
      if (systemCode(error) === 'ENOENT' || error instanceof FileOutside) return null;
      throw error;
    }
  };
  try {
    return await read({
      open,
      md5: (path) => digestFile(join(folder, path), 'md5'),
    });
  } finally {
    await Promise.all(opened.map((source) => source.close()));
  }
}

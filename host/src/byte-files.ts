import { createReadStream, createWriteStream } from 'node:fs';
import { open, rename, writeFile, type FileHandle } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import type { ByteSource, FileSink } from '@oiseau/core';

/** A file on disk as a byte source; keep it open while reading, then `close` it. */
export class FileByteSource implements ByteSource {
  private constructor(
    readonly handle: FileHandle,
    readonly size: number,
  ) {}

  static async open(path: string): Promise<FileByteSource> {
    const handle = await open(path, 'r');
    try {
      return new FileByteSource(handle, (await handle.stat()).size);
    } catch (error) {
      await handle.close();
      throw error;
    }
  }

  async read(offset: number, length: number): Promise<Uint8Array> {
    const bytes = new Uint8Array(Math.max(0, Math.min(length, this.size - offset)));
    let done = 0;
    while (done < bytes.length) {
      const { bytesRead } = await this.handle.read(bytes, done, bytes.length - done, offset + done);
      if (bytesRead === 0) break;
      done += bytesRead;
    }
    return bytes.subarray(0, done);
  }

  close(): Promise<void> {
    return this.handle.close();
  }
}

/** Creates a file that must not exist yet; `close` makes sure that its bytes are on the disk. */
export async function createFile(path: string): Promise<FileSink> {
  const handle = await open(path, 'wx');
  return {
    async write(bytes) {
      for (let done = 0; done < bytes.length;) {
        done += (await handle.write(bytes, done, bytes.length - done)).bytesWritten;
      }
    },
    async close() {
      await handle.sync();
      await handle.close();
    },
    abort: () => handle.close(),
  };
}

/** Puts bytes before everything that a file holds; the file is copied once. */
export async function prepend(path: string, bytes: Uint8Array): Promise<void> {
  const longer = `${path}.longer`;
  await writeFile(longer, bytes, { flag: 'wx' });
  await pipeline(createReadStream(path), createWriteStream(longer, { flags: 'a' }));
  await rename(longer, path);
}

import { createReadStream, createWriteStream } from 'node:fs';
import { open, rename, writeFile, type FileHandle } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import type { FileSink } from '@oiseau/codings';

/** Bytes that go to the disk at a time, while the next ones are being made. */
const CHUNK = 1 << 20;
/** Larger writes wait until they are on disk, which takes no longer than copying them. */
const WHOLE = CHUNK / 8;

async function writeAll(handle: FileHandle, bytes: Uint8Array): Promise<void> {
  for (let done = 0; done < bytes.length;)
    done += (await handle.write(bytes, done, bytes.length - done)).bytesWritten;
}

/** Creates a file that must not exist yet. */
export async function createFile(path: string): Promise<FileSink> {
  const handle = await open(path, 'wx');
  let filling = Buffer.allocUnsafeSlow(CHUNK);
  let spare = Buffer.allocUnsafeSlow(CHUNK);
  let filled = 0;
  let underWay: Promise<void> = Promise.resolve();
  const flush = async (): Promise<void> => {
    await underWay;
    if (filled === 0) return;
    underWay = writeAll(handle, filling.subarray(0, filled));
    // The next call waits for it and reports its failure.
    underWay.catch(() => undefined);
    [filling, spare] = [spare, filling];
    filled = 0;
  };
  return {
    async write(bytes) {
      if (bytes.length >= WHOLE) {
        await flush();
        await underWay;
        await writeAll(handle, bytes);
        return;
      }
      for (let done = 0; done < bytes.length;) {
        const count = Math.min(CHUNK - filled, bytes.length - done);
        filling.set(bytes.subarray(done, done + count), filled);
        filled += count;
        done += count;
        if (filled === CHUNK) await flush();
      }
    },
    async close() {
      await flush();
      await underWay;
      await handle.close();
    },
    async abort() {
      await underWay.catch(() => undefined);
      await handle.close();
    },
  };
}

/** Returns when everything written to a file is on the disk. */
export async function syncFile(path: string): Promise<void> {
  const handle = await open(path, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** Puts bytes before everything that a file holds; the file is copied once. */
export async function prepend(path: string, bytes: Uint8Array): Promise<void> {
  const longer = `${path}.longer`;
  await writeFile(longer, bytes, { flag: 'wx' });
  await pipeline(createReadStream(path), createWriteStream(longer, { flags: 'a' }));
  await rename(longer, path);
}

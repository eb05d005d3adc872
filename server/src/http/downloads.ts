import { msg } from '@oiseau/messages';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import type { Request, Response } from 'express';
import { ZipFile } from 'yazl';
import { ApiError } from './api-error.js';

/** A file that leaves: its name outside, where it lies, and how large it must be; null: not recorded. */
export interface Leaving {
  readonly name: string;
  readonly path: string;
  readonly bytes: number | null;
}

/**
 * Looks whether files are all there and as large as they must be, before the first byte of them goes out.
 * @throws ApiError 409, which names the first that is not
 */
export async function demandWhole(files: readonly Leaving[]): Promise<void> {
  const faults: string[] = [];
  for (const { name, path, bytes } of files) {
    const size = (await stat(path).catch(() => null))?.size;
    if (size === undefined) faults.push(`“${name}” is missing`);
    else if (bytes !== null && size !== bytes) faults.push(`“${name}” has ${size} bytes instead of ${bytes}`);
  }
  if (faults.length === 0) return;
  const others = faults.length - 1;
  const more =
    others === 0
      ? ''
      : others === 1
        ? ', and 1 more file is not whole'
        : `, and ${others} more files are not whole`;
  throw new ApiError(409, msg('Nothing was sent: {faults}{more}.', { faults: faults[0], more }));
}

/** A page asks first whether a download would be had, so that it can say why not; then nothing is sent, and nothing goes into the events. */
export const onlyAsks = ({ method }: Request): boolean => method === 'HEAD';

/**
 * Streams a ZIP of stored (not compressed) files as an attachment, and says beforehand how long it is; a client that goes away ends it.
 * @param texts small files that are made on the spot, by name; they come first
 */
export async function sendZip(
  response: Response,
  name: string,
  files: readonly Leaving[],
  texts: Readonly<Record<string, string | Buffer>> = {},
): Promise<void> {
  const zip = new ZipFile();
  const end = (error: unknown): void => {
    response.destroy(error instanceof Error ? error : new Error(String(error)));
  };
  zip.on('error', end);
  for (const [text, content] of Object.entries(texts))
    zip.addBuffer(Buffer.from(content), text, { compress: false });
  for (const { name: inside, path } of files) {
    const { size, mtime } = await stat(path);
    zip.addReadStreamLazy(inside, { size, mtime, compress: false }, (give) => {
      // Opened in its turn, so that a ZIP of thousands does not hold them all open.
      give(null, createReadStream(path));
    });
  }
  const length = await new Promise<number>((resolve) => {
    zip.end({ forceZip64Format: true, comment: '' }, resolve as () => void);
  });
  response.attachment(name).type('zip');
  if (length >= 0) response.set('Content-Length', String(length));
  await pipeline(zip.outputStream, response).catch((error: unknown) => {
    // The client has gone.
    if (!response.destroyed) end(error);
  });
}

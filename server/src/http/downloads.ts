import { stat } from 'node:fs/promises';
import archiver from 'archiver';
import type { Request, Response } from 'express';
import { ApiError } from './api-error.js';

/** A file that leaves: its name outside, where it lies, and how large it must be; null where nobody has noted that. */
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
  throw new ApiError(409, `Nothing was sent: ${faults[0]}${more}.`);
}

/** A page asks first whether a download would be had, so that it can say why not; then nothing is sent, and nothing goes into the events. */
export const onlyAsks = ({ method }: Request): boolean => method === 'HEAD';

/**
 * Streams a ZIP of stored (not compressed) files as an attachment; a client that goes away ends it.
 * @param texts small files that are made on the spot, by name; they come first
 */
export async function sendZip(
  response: Response,
  name: string,
  files: readonly Leaving[],
  texts: Readonly<Record<string, string | Buffer>> = {},
): Promise<void> {
  const archive = archiver('zip', { store: true, forceZip64: true });
  response.attachment(name).type('zip');
  archive.on('error', (error) => response.destroy(error));
  response.on('close', () => archive.abort());
  archive.pipe(response);
  for (const [text, content] of Object.entries(texts)) archive.append(content, { name: text });
  for (const { name: inside, path } of files) archive.file(path, { name: inside });
  await archive.finalize();
}

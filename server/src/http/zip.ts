import archiver from 'archiver';
import type { Response } from 'express';

/** A file of a ZIP: its name in there, and where it lies. */
export interface Zipped {
  readonly name: string;
  readonly path: string;
}

/**
 * Streams a ZIP of stored (not compressed) files as an attachment; a client that goes away ends it.
 * @param texts small files that are made on the spot, by name; they come first
 */
export async function sendZip(
  response: Response,
  name: string,
  files: readonly Zipped[],
  texts: Readonly<Record<string, string>> = {},
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

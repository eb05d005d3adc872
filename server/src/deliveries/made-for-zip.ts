import { createHash } from 'node:crypto';
import { manifestLine } from '@oiseau/formats/papers';
import { partOfPath, SUMS } from '@oiseau/render';
import type { Album } from '@oiseau/album/model';
import type { Db } from '../db/database.js';
import type { Leaving } from '../http/downloads.js';
import { sheetsOfDiscs } from '../sheets/pq-sheets.js';
import type { Delivery } from './delivery-repository.js';

/**
 * Files of a ZIP that are made for it, by path: beside a disc description the PQ sheets, and a list of sums that tells of what is in this very
 * ZIP, where that is not the whole delivery or has more. Made of a revision, they are the same bytes each time.
 */
export async function madeForZip(
  db: Db,
  { albumId, deliverable, proof }: Delivery,
  album: Album,
  files: readonly Leaving[],
  part: string | undefined,
): Promise<Readonly<Record<string, Buffer>>> {
  const all = deliverable.kind === 'ddp' ? await sheetsOfDiscs(db, albumId, album, deliverable) : [];
  const sheets = all.filter(({ path }) => part === undefined || partOfPath(path) === part);
  const hasSums = files.some(({ name }) => name === SUMS);
  if (!hasSums || (part === undefined && sheets.length === 0)) return bytesOf(sheets);
  const sumOf = (path: string): string | undefined => proof?.files.find((file) => file.path === path)?.sha256;
  const lines = [
    ...files.flatMap(({ name }) => (name === SUMS ? [] : [[sumOf(name), name] as const])),
    ...sheets.map(({ path, bytes }) => [createHash('sha256').update(bytes).digest('hex'), path] as const),
  ].map(([sum, path]) => (sum === undefined ? '' : manifestLine(sum, path)));
  return bytesOf([...sheets, { path: SUMS, bytes: Buffer.from(lines.join('')) }]);
}

const bytesOf = (files: readonly { readonly path: string; readonly bytes: Buffer }[]) =>
  Object.fromEntries(files.map(({ path, bytes }) => [path, bytes]));

import { randomUUID } from 'node:crypto';
import archiver from 'archiver';
import { Router, type Response } from 'express';
import { z } from 'zod';
import {
  AlbumFileError,
  albumFromFile,
  albumToFile,
  compareNames,
  isMasterName,
  mastersInFile,
  parseAlbumFile,
  safeFileName,
  uniqueNames,
  type AlbumFile,
} from '@oiseau/core';
import type { Database, Db } from '../db/database.js';
import { ApiError, notFound } from '../http/api-error.js';
import { findMaster, linkMaster, mastersNamed, mastersOfAlbum } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import { findPicture } from '../media/picture-repository.js';
import { findAlbum, insertAlbum } from './album-repository.js';

const sha256 = z.string().regex(/^[0-9a-f]{64}$/);
const importing = z.strictObject({
  /** The album file's text. */
  file: z.string().max(20_000_000),
  /** SHA-256 of each master by the name in the file; names left out are looked up on the Shelf. */
  masters: z.record(z.string(), sha256).default({}),
});

interface Export {
  readonly title: string;
  readonly file: AlbumFile;
  /** What lies beside the album file: its name there and its content. */
  readonly beside: readonly { readonly name: string; readonly sha256: string }[];
}

/** An album leaving and entering as one open file (docs/album-file.md 1.1). */
export function albumFileRoutes(db: Database, media: MediaStore): Router {
  const router = Router();

  router.get('/albums/:id/file', async (request, response) => {
    const { title, file } = await exportAlbum(db, request.params.id);
    response
      .attachment(`${title}.json`)
      .type('json')
      .send(`${JSON.stringify(file, null, 2)}\n`);
  });

  router.get('/albums/:id/bundle', async (request, response) => {
    const { title, file, beside } = await exportAlbum(db, request.params.id);
    const archive = startZip(response, `${title}.zip`);
    archive.append(`${JSON.stringify(file, null, 2)}\n`, { name: 'album.json' });
    for (const { name, sha256: content } of beside) archive.file(media.file(content), { name });
    await archive.finalize();
  });

  router.post('/album-files', async (request, response) => {
    const { file: text, masters } = importing.parse(request.body);
    const file = parseForImport(text);
    const id = randomUUID();
    await db.transaction(async (transaction) => {
      const found = await findMasters(transaction, file, masters);
      const album = albumFromFile(
        { ...file, artwork: null },
        (name) => found.get(name) ?? '',
        () => randomUUID(),
      );
      await insertAlbum(transaction, id, album);
      for (const [name, content] of found) await linkMaster(transaction, id, content, baseName(name));
    });
    response.status(201).json({ id });
  });

  /** Which masters a file needs, and which of them are here already under that name. */
  router.post('/album-files/masters', async (request, response) => {
    const { file: text } = importing.parse(request.body);
    const names = mastersInFile(parseForImport(text));
    const here = await Promise.all(names.map((name) => mastersNamed(db, baseName(name))));
    response.json(names.map((name, i) => ({ name, here: (here[i]?.length ?? 0) > 0 })));
  });

  return router;
}

/** Streams a ZIP of stored (not compressed) files as an attachment; a client that goes away ends it. */
export function startZip(response: Response, name: string): archiver.Archiver {
  const archive = archiver('zip', { store: true, forceZip64: true });
  response.attachment(name).type('zip');
  archive.on('error', (error) => response.destroy(error));
  response.on('close', () => archive.abort());
  archive.pipe(response);
  return archive;
}

const baseName = (name: string): string => name.replace(/^.*[/\\]/, '');

function parseForImport(text: string): AlbumFile {
  try {
    return parseAlbumFile(text);
  } catch (error) {
    if (!(error instanceof AlbumFileError)) throw error;
    throw new ApiError(
      422,
      `The album file can't be used. ${error.problems[0] ?? ''}`,
      { problems: error.problems },
      { cause: error },
    );
  }
}

/** @throws ApiError naming every master that is neither brought along nor on the Shelf */
async function findMasters(
  db: Db,
  file: AlbumFile,
  given: Readonly<Record<string, string>>,
): Promise<Map<string, string>> {
  const found = new Map<string, string>();
  const missing: string[] = [];
  for (const name of mastersInFile(file)) {
    const brought = given[name];
    const master =
      brought === undefined ? (await mastersNamed(db, baseName(name)))[0] : await findMaster(db, brought);
    if (master) found.set(name, master.sha256);
    else missing.push(name);
  }
  if (missing.length > 0) throw new ApiError(422, `Masters are missing: ${missing.join(', ')}.`, { missing });
  return found;
}

async function exportAlbum(db: Db, id: string): Promise<Export> {
  const record = await findAlbum(db, id);
  if (!record) throw notFound('album');
  const masters = (await mastersOfAlbum(db, id)).sort((a, b) => compareNames(a.name, b.name));
  const names = uniqueNames(masters.map(({ name }) => safeFileName(name.replace(/\.[a-z0-9]+$/i, ''))));
  const fileNames = new Map(
    masters.map(({ sha256: content, name }, i) => {
      const ending = isMasterName(name) ? name.slice(name.lastIndexOf('.')).toLowerCase() : '.wav';
      return [content, `${names[i] ?? content}${ending}`];
    }),
  );
  const { artwork } = record.album;
  const picture = artwork ? await findPicture(db, artwork) : undefined;
  const artworkName = picture ? `cover.${picture.mediaType === 'image/png' ? 'png' : 'jpg'}` : null;
  const used = new Set(record.album.songs.map(({ region }) => region.master));
  const beside = [...fileNames]
    .filter(([content]) => used.has(content))
    .map(([content, name]) => ({ name, sha256: content }));
  return {
    title: safeFileName(record.album.title || 'Untitled album'),
    file: albumToFile(record.album, (content) => fileNames.get(content) ?? content, artworkName),
    beside: picture && artworkName ? [...beside, { name: artworkName, sha256: picture.sha256 }] : beside,
  };
}

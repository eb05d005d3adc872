import { albumSchema } from '@oiseau/core';
import { z } from 'zod';
import { endpoint } from './endpoint.js';
import { moment, name, sha256 } from './values.js';

export const albumId = z.object({ id: z.string() });

/** One album on the Shelf. */
export const shelfEntry = z.object({
  id: z.string(),
  title: z.string(),
  performer: z.string(),
  artwork: sha256.nullable(),
  tracks: z.int(),
  /** How long it is in CD frames: the lead-outs of its discs and the lengths of its sides; 0 for an album without tracks. */
  frames: z.int(),
  updatedAt: moment,
});
export type ShelfEntry = z.output<typeof shelfEntry>;

export const albumRecord = z.object({
  id: z.string(),
  /** Grows by one with every saved edit. */
  version: z.int().min(1),
  album: albumSchema,
  updatedAt: moment,
});
export type AlbumRecord = z.output<typeof albumRecord>;

const albumFile = z.strictObject({
  /** The album file's text. */
  file: z.string().max(20_000_000),
  /** SHA-256 of each master by the name in the file; names left out are looked up on the Shelf. */
  masters: z.record(z.string(), sha256).default({}),
});

export const ALBUMS = {
  status: endpoint('GET', '/status', 'Whether no album was ever made.', {
    answer: z.object({ untouched: z.boolean() }),
  }),
  shelf: endpoint('GET', '/albums', 'All albums, the one that was edited last first.', {
    answer: z.array(shelfEntry),
  }),
  createAlbum: endpoint('POST', '/albums', 'Makes an empty album.', {
    status: 201,
    body: z.strictObject({ title: z.string().max(4000).default('') }),
    answer: albumId,
  }),
  album: endpoint('GET', '/albums/:id', 'An album as it was saved last.', { answer: albumRecord }),
  saveAlbum: endpoint(
    'PUT',
    '/albums/:id',
    'Saves a new state over a version; 409 when the album has moved on.',
    {
      body: z.strictObject({ version: z.int().min(1), album: albumSchema }),
      answer: z.object({ version: z.int() }),
    },
  ),
  deleteAlbum: endpoint('DELETE', '/albums/:id', 'Takes an album off the Shelf; it can be restored.'),
  restoreAlbum: endpoint('POST', '/albums/:id/restore', 'Puts a deleted album back.'),
  duplicateAlbum: endpoint('POST', '/albums/:id/duplicate', 'Makes a copy of an album.', {
    status: 201,
    answer: albumId,
  }),
  isrcsElsewhere: endpoint('GET', '/albums/:id/isrcs-elsewhere', 'The ISRCs that stand in other albums.', {
    answer: z.array(z.object({ isrc: z.string(), album: z.string() })),
  }),
  albumFile: endpoint('GET', '/albums/:id/file', 'The album as an open file.', { file: 'application/json' }),
  bundle: endpoint('GET', '/albums/:id/bundle', 'The album file with its masters and cover.', {
    file: 'application/zip',
  }),
  importAlbum: endpoint('POST', '/album-files', 'Makes an album of an album file.', {
    status: 201,
    body: albumFile,
    answer: albumId,
  }),
  neededMasters: endpoint(
    'POST',
    '/album-files/masters',
    'Which masters an album file needs, and which are here.',
    {
      body: albumFile,
      answer: z.array(z.object({ name, here: z.boolean() })),
    },
  ),
  pqSheet: endpoint('GET', '/albums/:id/pq-sheet.pdf', 'The PQ sheet of an album, or of a revision of it.', {
    query: z.object({ revision: z.coerce.number().int().optional() }),
    file: 'application/pdf',
  }),
} as const;

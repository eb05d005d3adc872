import { READER_LANGUAGES } from '@oiseau/messages';
import { albumPatchSchema } from '@oiseau/album/edits';
import { albumSchema } from '@oiseau/album/model';
import * as z from 'zod';
import { endpoint } from './endpoint.js';
import { moment, name, sha256 } from './values.js';

export const albumId = z.object({ id: z.string() });

/** What a paper is about, and the language in which it is printed. */
const paperQuery = z.object({
  language: z.enum(READER_LANGUAGES).default('en'),
  /** Name of an edition; the first one by default. */
  edition: z.string().max(100).optional(),
});

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
  /** What was kept of it can't be read any more. */
  damaged: z.boolean(),
  /** Renders of it that wait or are at work. */
  rendering: z.int(),
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

/** How the Shelf is in order. */
export const SHELF_ORDERS = ['edited', 'title', 'performer'] as const;
export type ShelfSort = (typeof SHELF_ORDERS)[number];

/** Albums on one page of the Shelf. */
export const SHELF_PAGE = 60;

/** The most that an album may weigh as JSON: five hundred songs with long comments. */
const ALBUM_BODY = 8_000_000;

const albumFile = z.strictObject({
  /** The album file's text. */
  file: z.string().max(ALBUM_BODY),
  /** SHA-256 of each master by the name in the file; names left out are looked up on the Shelf. */
  masters: z
    .record(z.string().max(1000), sha256)
    .refine((masters) => Object.keys(masters).length <= 1000, 'More than 1000 masters.')
    .default({}),
});

export const ALBUMS = {
  status: endpoint(
    'GET',
    '/status',
    'any',
    'Whether the installation is untouched: no album was ever created.',
    {
      answer: z.object({ untouched: z.boolean() }),
    },
  ),
  shelf: endpoint('GET', '/albums', 'any', 'Albums, paged.', {
    query: z.object({
      /** Words of the title or the performer. */
      q: z.string().max(200).default(''),
      /** `edited`: the one that was edited last first; `title` and `performer`: from A on. */
      order: z.enum(SHELF_ORDERS).default('edited'),
      offset: z.coerce.number().int().min(0).default(0),
      limit: z.coerce.number().int().min(1).max(200).default(SHELF_PAGE),
    }),
    answer: z.object({
      albums: z.array(shelfEntry),
      /** How many there are in all. */
      total: z.int(),
      /** Albums whose entries are being brought up to date, after an upgrade or an import of many. */
      indexing: z.int(),
    }),
  }),
  createAlbum: endpoint('POST', '/albums', 'any', 'Creates an empty album.', {
    status: 201,
    body: z.strictObject({ title: z.string().max(4000).default('') }),
    answer: albumId,
  }),
  album: endpoint('GET', '/albums/:id', 'album', 'An album as last saved.', { answer: albumRecord }),
  rawAlbum: endpoint('GET', '/albums/:id/raw', 'album', 'The stored document of an album, unread.', {
    right: 'work',
    file: 'application/json',
  }),
  bringBackRevision: endpoint(
    'POST',
    '/albums/:id/revisions/:number/album',
    'album',
    'Restores a damaged album from a revision.',
  ),
  saveAlbum: endpoint(
    'PUT',
    '/albums/:id',
    'album',
    'Saves a new state over a version; 409 when the album has moved on.',
    {
      most: ALBUM_BODY,
      body: z.strictObject({ version: z.int().min(1), album: albumSchema }),
      answer: z.object({ version: z.int() }),
    },
  ),
  changeAlbum: endpoint(
    'PATCH',
    '/albums/:id',
    'album',
    'Changes a version of an album by a JSON Patch (RFC 6902) of its document; 409 when the album has moved on.',
    {
      most: ALBUM_BODY,
      body: z.strictObject({ version: z.int().min(1), patch: albumPatchSchema }),
      answer: z.object({ version: z.int() }),
    },
  ),
  albumChanges: endpoint(
    'GET',
    '/albums/:id/changes',
    'album',
    'The changes since a version of an album, or the whole album when they are no longer stored.',
    {
      query: z.object({ after: z.coerce.number().int().min(1) }),
      answer: z.object({
        version: z.int(),
        /** In order, each of the document that the one before has left; null: see `album`. */
        changes: z.array(z.object({ who: z.string(), patch: albumPatchSchema })).nullable(),
        album: albumSchema.nullable(),
      }),
    },
  ),
  deleteAlbum: endpoint('DELETE', '/albums/:id', 'album', 'Deletes an album; it can be restored.', {
    right: 'delete',
  }),
  restoreAlbum: endpoint('POST', '/albums/:id/restore', 'album', 'Restores a deleted album.', {
    right: 'delete',
  }),
  duplicateAlbum: endpoint('POST', '/albums/:id/duplicate', 'album', 'Duplicates an album.', {
    status: 201,
    answer: albumId,
  }),
  isrcsElsewhere: endpoint('GET', '/albums/:id/isrcs-elsewhere', 'album', 'ISRCs used in other albums.', {
    answer: z.array(z.object({ isrc: z.string(), album: z.string() })),
  }),
  isrcRegister: endpoint('GET', '/isrcs', 'any', 'Every assigned ISRC with album and track.', {
    right: 'work',
    answer: z.array(
      z.object({
        isrc: z.string(),
        albumId: z.string(),
        album: z.string(),
        performer: z.string(),
        upc: z.string(),
        /** From 1, among the tracks of the album. */
        track: z.int(),
        title: z.string(),
      }),
    ),
  }),
  albumFile: endpoint('GET', '/albums/:id/file', 'album', 'The album file.', {
    right: 'work',
    file: 'application/json',
  }),
  bundle: endpoint('GET', '/albums/:id/bundle', 'album', 'The album file with its masters and cover.', {
    right: 'work',
    file: 'application/zip',
  }),
  bundles: endpoint('GET', '/bundles', 'any', 'Several albums in one ZIP, a folder each.', {
    right: 'work',
    query: z.object({
      /** Ids, with commas between them. */
      albums: z
        .string()
        .max(4000)
        .transform((text) => [...new Set(text.split(','))])
        .pipe(z.array(z.string().min(1).max(60)).min(1).max(100)),
    }),
    file: 'application/zip',
  }),
  importAlbum: endpoint('POST', '/album-files', 'any', 'Creates an album from an album file.', {
    most: ALBUM_BODY,
    status: 201,
    body: albumFile,
    answer: albumId,
  }),
  neededMasters: endpoint(
    'POST',
    '/album-files/masters',
    'any',
    'The masters an album file needs, and which are stored.',
    { most: ALBUM_BODY, body: albumFile, answer: z.array(z.object({ name, here: z.boolean() })) },
  ),
  labelCopy: endpoint(
    'GET',
    '/albums/:id/label-copy.pdf',
    'album',
    'Label copy: all text and codes of an album as PDF.',
    {
      right: 'work',
      query: paperQuery,
      file: 'application/pdf',
    },
  ),
  loudnessReport: endpoint(
    'GET',
    '/albums/:id/loudness.pdf',
    'album',
    'Loudness report as PDF, once everything is measured (`/sounds`).',
    { right: 'work', query: paperQuery, file: 'application/pdf' },
  ),
  pqSheet: endpoint(
    'GET',
    '/albums/:id/pq-sheet.pdf',
    'album',
    'PQ sheet of a disc of an album or of a revision; the first disc by default.',
    {
      right: 'work',
      query: paperQuery.extend({
        revision: z.coerce.number().int().optional(),
        part: z.coerce.number().int().optional(),
      }),
      file: 'application/pdf',
    },
  ),
} as const;

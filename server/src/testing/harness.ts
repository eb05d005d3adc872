import { randomBytes } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ENDPOINTS, misfitWords } from '@oiseau/api';
import { encodeWords, wavHeader, type WordFormat } from '@oiseau/audio/pcm';
import { newSong, type Album } from '@oiseau/album/model';
import type { Proof, ProofComparison } from '@oiseau/render';
import { pino } from 'pino';
import { inject } from 'vitest';
import { keepFirstKey, newSecret } from '../access/key-repository.js';
import { createApp } from '../app.js';
import { Database } from '../db/database.js';
import { askForNews } from '../handovers/hand-over.js';
import { migrate } from '../db/migrate.js';
import { workOnce, type WorkerParts } from '../worker/work.js';
import { DeadWorkers } from '../jobs/dead-workers.js';
import { MediaStore } from '../media/media-store.js';
import { Uploads } from '../media/uploads.js';
import { computeHere } from '../compute/pools.js';

export interface Answer<T = Record<string, unknown>> {
  readonly status: number;
  readonly body: T;
}

/** The server with a database and a media folder of its own, reached over real HTTP. */
export interface Harness {
  readonly db: Database;
  /** What the database is called. */
  readonly database: string;
  readonly media: MediaStore;
  readonly url: string;
  /** The first key, which `call` and `send` come with. */
  readonly key: string;
  readonly worker: WorkerParts;
  call<T = Record<string, unknown>>(method: string, path: string, body?: unknown): Promise<Answer<T>>;
  /** `fetch` with the first key; `path` begins with `/api`. */
  fetch(path: string, init?: RequestInit): Promise<Response>;
  /** Sends raw bytes, as the browser sends a file. */
  send<T = Record<string, unknown>>(path: string, bytes: Uint8Array<ArrayBuffer>): Promise<Answer<T>>;
  /** Does every waiting job, one after the other. */
  work(): Promise<void>;
  close(): Promise<void>;
}

/** A database of its own, empty and not migrated. */
export async function freshDatabase(): Promise<{ db: Database; name: string; drop(): Promise<void> }> {
  const settings = inject('database');
  const name = `oiseau_${randomBytes(6).toString('hex')}`;
  const root = Database.connect({ ...settings, database: 'oiseau' });
  await root.execute(`CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`);
  const db = Database.connect({ ...settings, database: name });
  return {
    ...{ db, name },
    drop: async () => {
      await db.close();
      await root.execute(`DROP DATABASE ${name}`);
      await root.close();
    },
  };
}

/**
 * @param limits as the settings of an installation have them; undefined: none
 * @param before makes the database of an earlier version
 */
export async function startHarness(
  limits: { readonly reserve?: number; readonly albumQuota?: number } = {},
  before: (db: Database) => Promise<void> = () => Promise.resolve(),
): Promise<Harness> {
  const { db, name: database, drop } = await freshDatabase();
  await before(db);
  await migrate(db);
  const folder = await mkdtemp(join(tmpdir(), '.oiseau-media-'));
  const media = new MediaStore(folder, limits.reserve ?? 0);
  await media.prepare();
  const log = pino({ level: 'silent' });
  const uploads = new Uploads(media);
  const key = newSecret();
  await keepFirstKey(db, key);
  const server = createApp({ db, media, uploads, pool: computeHere, log, web: folder, ...limits }).listen(
    0,
    '127.0.0.1',
  );
  await new Promise((resolve) => server.once('listening', resolve));
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const withKey: Harness['fetch'] = (path, init = {}) =>
    fetch(`${url}${path}`, { ...init, headers: { Authorization: `Bearer ${key}`, ...init.headers } });
  const ask = async <T>(path: string, init: RequestInit): Promise<Answer<T>> => {
    const response = await withKey(`/api${path}`, init);
    const text = await response.text();
    const body: unknown = text === '' ? {} : JSON.parse(text);
    demandFit(init.method ?? 'GET', path, response.status, body);
    return { status: response.status, body: body as T };
  };
  const worker: WorkerParts = {
    db,
    media,
    log,
    name: 'test worker',
    dead: new DeadWorkers(),
    leaving: () => false,
  };
  return {
    db,
    database,
    media,
    url,
    key,
    fetch: withKey,
    worker,
    call: (method, path, body) =>
      ask(path, {
        method,
        ...(body === undefined
          ? {}
          : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
      }),
    send: (path, bytes) =>
      ask(path, { method: 'POST', body: bytes, headers: { 'Content-Type': 'application/octet-stream' } }),
    work: async () => {
      await askForNews(db);
      while (await workOnce(worker));
    },
    close: async () => {
      server.closeAllConnections();
      server.close();
      await drop();
      await rm(folder, { recursive: true, force: true });
    },
  };
}

/** Whatever a test asks for: an answer that is not what the contract says fails it. */
function demandFit(method: string, path: string, status: number, body: unknown): void {
  const [address = ''] = path.split('?');
  const endpoint = ENDPOINTS.find(
    (each) =>
      each.method === method &&
      each.status === status &&
      new RegExp(`^${each.path.replace(/:\w+/g, '[^/]+')}$`).test(address),
  );
  const read = endpoint?.answer?.safeParse(body);
  if (read && !read.success) throw new Error(`${method} ${path}: ${misfitWords(read.error)}`);
}

/** A WAV file of a tone, different for each pitch. */
export function toneFile(
  hz: number,
  seconds: number,
  rate = 44_100,
  format: WordFormat = 'int16',
): Uint8Array<ArrayBuffer> {
  const left = Float64Array.from(
    { length: Math.round(seconds * rate) },
    (_, n) => 0.4 * Math.sin((2 * Math.PI * hz * n) / rate),
  );
  const header = wavHeader(format, rate, left.length);
  const words = encodeWords({ left, right: left }, format);
  const file = new Uint8Array(header.length + words.length);
  file.set(header);
  file.set(words, header.length);
  return file;
}

/** An album with a track for each tone; gives its number and state. */
export async function albumWithTones(
  harness: Harness,
  tones: readonly number[],
  change: Partial<Album> = {},
): Promise<{ id: string; version: number; album: Album }> {
  const { id } = (await harness.call<{ id: string }>('POST', '/albums', { title: 'Nine Tides' })).body;
  const songs: Album['songs'] = [];
  for (const hz of tones) {
    const { body } = await harness.send<{ sha256: string }>(
      `/albums/${id}/masters?name=${hz}.wav`,
      toneFile(hz, 5),
    );
    songs.push(newSong(`t${hz}`, body.sha256, `Tone ${hz}`));
  }
  const { body } = await harness.call<{ version: number; album: Album }>('GET', `/albums/${id}`);
  const album = { ...body.album, songs, ...change };
  const saved = await harness.call<{ version: number }>('PUT', `/albums/${id}`, {
    version: body.version,
    album,
  });
  return { id, version: saved.body.version, album };
}

/** A delivery as the server answers it, as far as tests look at it. */
export interface AnsweredDelivery {
  readonly id: string;
  readonly revision: number;
  readonly state: string;
  readonly message: string | null;
  readonly askedBy: string;
  readonly clearedAt: string | null;
  readonly deliverable: { readonly name: string };
  readonly proof: Proof | null;
  readonly compared: ProofComparison | null;
}

export async function deliveriesOf(harness: Harness, albumId: string): Promise<AnsweredDelivery[]> {
  return (await harness.call<AnsweredDelivery[]>('GET', `/albums/${albumId}/deliveries`)).body;
}

/** Where the files of a delivery lie. */
export async function renderedFolder(
  { db, media }: Harness,
  { id, deliverable }: AnsweredDelivery,
): Promise<string> {
  const attempt = await db.one((row) => String(row.attempt), 'SELECT attempt FROM deliveries WHERE id = ?', [
    id,
  ]);
  return join(media.delivery(id), attempt, deliverable.name);
}

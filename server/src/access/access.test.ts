import { randomUUID } from 'node:crypto';
import { mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { request, type IncomingMessage } from 'node:http';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ENDPOINTS, mayDo, type Endpoint, type KeyRecord } from '@oiseau/api';
import type { Router } from 'express';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createApp } from '../app.js';
import { Uploads } from '../media/uploads.js';
import { thinkHere } from '../thinking/thinkers.js';
import { albumWithTones, deliveriesOf, startHarness, toneFile, type Harness } from '../testing/harness.js';
import { firstKeyOf } from './access-key.js';
import { waitFor } from './failed-tries.js';
import { hashOf, keepFirstKey } from './key-repository.js';
import { servedBy } from './serve.js';

let harness: Harness;
beforeAll(async () => {
  harness = await startHarness();
});
afterAll(() => harness.close());

interface Raw {
  readonly status: number;
  readonly headers: IncomingMessage['headers'];
  readonly text: string;
}

/** A request with exactly these headers, as a page's browser or a script of somebody else would send it. */
function raw(
  method: string,
  path: string,
  headers: Record<string, string> = {},
  body?: string,
): Promise<Raw> {
  return new Promise((resolve, reject) => {
    const asked = request(new URL(path, harness.url), { method, headers }, (response) => {
      let text = '';
      response.setEncoding('utf8').on('data', (chunk: string) => (text += chunk));
      response.on('end', () =>
        resolve({ status: response.statusCode ?? 0, headers: response.headers, text }),
      );
    });
    asked.on('error', reject);
    asked.end(body);
  });
}
const bearer = (key = harness.key) => ({ Authorization: `Bearer ${key}` });
const JSON_TYPE = { 'Content-Type': 'application/json' };
const title = JSON.stringify({ title: 'made from elsewhere' });
const titles = async (): Promise<string[]> =>
  (await harness.call<{ title: string }[]>('GET', '/albums')).body.map((album) => album.title);

/** What a browser keeps of a session. */
async function signIn(key = harness.key): Promise<{ Cookie: string; header: string }> {
  const { status, headers } = await raw('POST', '/api/session', JSON_TYPE, JSON.stringify({ key }));
  expect(status).toBe(200);
  const [header = ''] = headers['set-cookie'] ?? [];
  return { Cookie: header.split(';')[0] ?? '', header };
}

describe('a page of another site', () => {
  it.each(['evil.example', 'evil.example:4680', '127.0.0.1:1', 'localhost', '[::1'])(
    'that is bound to this machine by the name “%s” reads nothing',
    async (host) => {
      for (const path of ['/', '/api/albums', '/api/openapi.json'])
        expect((await raw('GET', path, { ...bearer(), Host: host })).status).toBe(421);
    },
  );

  it.each(['127.0.0.1', 'localhost', '[::1]', 'LOCALHOST'])('is not one of ours by %s', async (name) => {
    const { port } = new URL(harness.url);
    expect((await raw('GET', '/api/albums', { ...bearer(), Host: `${name}:${port}` })).status).toBe(200);
  });

  it.each([
    { Origin: 'http://evil.example' },
    { Origin: 'null' },
    { Origin: 'http://127.0.0.1:1' },
    { 'Sec-Fetch-Site': 'cross-site' },
    { 'Sec-Fetch-Site': 'same-site' },
  ])('changes nothing: %o', async (headers: Record<string, string>) => {
    const { Cookie } = await signIn();
    const before = await titles();
    const made = await raw('POST', '/api/albums', { ...headers, ...JSON_TYPE, Cookie }, title);
    expect([made.status, made.headers['access-control-allow-origin']]).toEqual([403, undefined]);
    const sent = await raw('POST', '/api/uploads', {
      ...{ ...headers, Cookie },
      ...{ 'Tus-Resumable': '1.0.0', 'Upload-Length': '9' },
    });
    expect(sent.status).toBe(403);
    expect(await titles()).toEqual(before);
  });

  it('changes nothing by a form, which can set no media type of ours and no header', async () => {
    const { Cookie } = await signIn();
    const { id } = (await harness.call<{ id: string }>('POST', '/albums', { title: 'stays' })).body;
    for (const type of ['text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data; boundary=x'])
      expect((await raw('POST', '/api/albums', { Cookie, 'Content-Type': type }, title)).status).toBe(403);
    // No body, and so no media type: the copy of an album, a render that is stopped.
    expect((await raw('POST', `/api/albums/${id}/duplicate`, { Cookie })).status).toBe(403);
    expect((await raw('POST', `/api/albums/${id}/duplicate`, { Cookie, 'X-Oiseau': '1' })).status).toBe(201);
  });

  it('is told nothing by uploads, and can’t embed what is here', async () => {
    const head = { 'Tus-Resumable': '1.0.0', 'Upload-Length': '9', ...bearer() };
    const made = await raw('POST', '/api/uploads', head);
    expect([made.status, made.headers['access-control-allow-origin']]).toEqual([201, undefined]);
    const place = made.headers.location ?? '';
    const asked = { ...head, Origin: 'http://evil.example' };
    expect((await raw('HEAD', place, asked)).headers['access-control-allow-origin']).toBeUndefined();
    for (const method of ['GET', 'OPTIONS'])
      expect((await raw(method, place, bearer())).status).not.toBe(200);
    const page = (await raw('GET', '/api/albums', bearer())).headers;
    expect(page).toMatchObject({
      'cross-origin-resource-policy': 'same-origin',
      'cross-origin-opener-policy': 'same-origin',
    });
    for (const rule of [
      "base-uri 'none'",
      "form-action 'self'",
      "object-src 'none'",
      "frame-ancestors 'none'",
    ])
      expect(page['content-security-policy']).toContain(rule);
  });
});

describe('a body', () => {
  it('is read only as the media type that its call names', async () => {
    const ask = (type: string, path = '/api/albums') =>
      raw('POST', path, { ...bearer(), 'Content-Type': type }, title);
    expect((await ask('application/json')).status).toBe(201);
    for (const type of ['application/octet-stream', 'application/x-www-form-urlencoded', 'text/json', 'x'])
      expect((await ask(type)).status, type).toBe(415);
    const { id } = (await harness.call<{ id: string }>('POST', '/albums', {})).body;
    expect((await ask('application/json', `/api/albums/${id}/duplicate`)).status).toBe(415);
  });

  it('is a megabyte at the most, but for albums', async () => {
    const long = JSON.stringify({ title: 'x'.repeat(1_000_001) });
    expect((await raw('POST', '/api/albums', { ...bearer(), ...JSON_TYPE }, long)).status).toBe(413);
  });
});

describe('whoever has no key', () => {
  it.each(
    ENDPOINTS.filter(({ door }) => door !== 'none').map((each) => [`${each.method} ${each.path}`, each]),
  )('is refused %s', async (_, { method, path }) => {
    const filled = `/api${path.replace(/:\w+/g, randomUUID())}`;
    const headers = method === 'GET' ? {} : { 'X-Oiseau': '1' };
    expect((await raw(method, filled, headers)).status).toBe(401);
  });

  it('is refused before anything of a body is read, and told of no address that is none', async () => {
    const answer = await new Promise<number>((resolve, reject) => {
      const asked = request(`${harness.url}/api/masters?name=a.wav`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/octet-stream', 'Content-Length': '1000000000' },
      });
      asked.on('response', ({ statusCode }) => {
        resolve(statusCode ?? 0);
        asked.destroy();
      });
      asked.on('error', reject);
      asked.write('RIFF');
    });
    expect(answer).toBe(401);
    for (const path of ['/api/uploads', '/api/uploads/x', '/api/openapi.json', '/api/nothing'])
      expect((await raw('GET', path)).status).toBe(401);
  });

  it('is slowed down, in the database, while the right key is never kept waiting', async () => {
    expect([1, 3, 4, 5, 6, 20].map(waitFor)).toEqual([0, 0, 250, 500, 1000, 5000]);
    const started = performance.now();
    for (let i = 0; i < 4; i++)
      expect((await raw('GET', '/api/albums', bearer(`wrong${i}`))).status).toBe(401);
    expect(performance.now() - started).toBeGreaterThan(240);
    const tries = await harness.db.many((row) => Number(row.tries), 'SELECT tries FROM failed_tries');
    expect(tries).toEqual([4]);
    const many = await Promise.all(
      Array.from({ length: 20 }, () => raw('GET', '/api/albums', bearer('wrong'))),
    );
    expect(new Set(many.map(({ status }) => status))).toEqual(new Set([401, 429]));
    expect((await raw('GET', '/api/albums', bearer())).status).toBe(200);
    expect(await harness.db.many((row) => row, 'SELECT * FROM failed_tries')).toEqual([]);
  });
});

describe('every route', () => {
  /** All handlers of an app, however deep their routers lie. */
  interface Layer {
    readonly route?: { readonly path: string; readonly stack: readonly { method: string; handle: never }[] };
    readonly handle: { readonly stack?: readonly Layer[] };
  }
  const routes = (
    stack: readonly Layer[],
  ): { path: string; method: string; endpoint: Endpoint | undefined }[] =>
    stack.flatMap(({ route, handle }) => [
      ...(route?.stack ?? []).map((each) => ({
        path: route?.path ?? '',
        method: each.method.toUpperCase(),
        endpoint: servedBy.get(each.handle),
      })),
      ...routes(handle.stack ?? []),
    ]);

  it('has a door, but for uploads, which belong to a key, and pages without anything of anybody', () => {
    const { db, media, worker } = harness;
    const app = createApp({
      db,
      media,
      uploads: new Uploads(media),
      thinker: thinkHere,
      log: worker.log,
      web: media.root,
    });
    const found = routes((app.router as unknown as Router).stack as unknown as Layer[]);
    expect(found.length).toBeGreaterThan(ENDPOINTS.length);
    const without = found.filter(({ endpoint }) => !endpoint).map(({ method, path }) => `${method} ${path}`);
    expect(without.sort()).toEqual([
      'DELETE /uploads/:id',
      'GET /api/openapi.json',
      'GET /{*path}',
      'HEAD /uploads/:id',
      'PATCH /uploads/:id',
      'POST /uploads',
    ]);
    const served = new Set(found.map(({ endpoint }) => endpoint));
    expect(ENDPOINTS.filter((each) => !served.has(each))).toEqual([]);
    expect(ENDPOINTS.filter(({ door }) => door === 'none').map(({ path }) => path)).toEqual(['/session']);
  });

  it.each([
    '/albums/:id',
    '/deliveries/:id/files',
    '/masters/:sha256/audio',
    '/pictures/:sha256',
    '/images/:id',
  ])('knows no odd id: %s', async (path) => {
    for (const odd of ['constructor', '__proto__', '%00', 'é', '..%2f..', "'%20OR%201", '0'.repeat(5000)])
      expect((await raw('GET', `/api${path.replace(/:\w+/, odd)}`, bearer())).status, odd).toBe(404);
    expect((await raw('GET', `/api${path.replace(/:\w+/, '%ff')}`, bearer())).status).toBe(400);
  });
});

describe('a session', () => {
  it('is a cookie that scripts and other sites never see, kept as a hash, and ends', async () => {
    const { Cookie, header } = await signIn();
    expect(header).toMatch(/; HttpOnly/);
    expect(header).toMatch(/; SameSite=Strict/);
    expect(header).not.toMatch(/Secure/);
    expect((await raw('GET', '/api/session', { Cookie })).text).toBe(
      JSON.stringify({ name: '', role: 'engineer', first: true, shared: false }),
    );
    const token = Cookie.split('=')[1] ?? '';
    const hashes = await harness.db.many((row) => String(row.hash), 'SELECT hash FROM sessions');
    expect(hashes).toContain(hashOf(token));
    expect(hashes).not.toContain(token);
    await raw('DELETE', '/api/session', { Cookie, 'X-Oiseau': '1' });
    expect((await raw('GET', '/api/session', { Cookie })).status).toBe(401);
    const late = await signIn();
    await harness.db.execute('UPDATE sessions SET ends_at = UTC_TIMESTAMP(3)');
    expect((await raw('GET', '/api/session', late)).status).toBe(401);
  });

  it('ends with the key that it was traded for', async () => {
    const { Cookie } = await signIn();
    await keepFirstKey(harness.db, harness.key);
    expect((await raw('GET', '/api/session', { Cookie })).status).toBe(200);
    await keepFirstKey(harness.db, 'another-key-that-lies-in-the-file-since-today');
    expect((await raw('GET', '/api/session', { Cookie })).status).toBe(401);
    expect((await raw('GET', '/api/session', bearer())).status).toBe(401);
    await keepFirstKey(harness.db, harness.key);
  });
});

describe('the first key', () => {
  it('is made once, readable by its owner alone, and anew when its file is gone', async () => {
    const data = await mkdtemp(join(tmpdir(), 'oiseau-key-'));
    try {
      const key = await firstKeyOf(data);
      expect(key).toMatch(/^[\w-]{43}$/);
      expect(await firstKeyOf(data)).toBe(key);
      const path = join(data, 'access-key');
      expect((await stat(path)).mode & 0o777).toBe(0o600);
      expect((await readFile(path, 'utf8')).trim()).toBe(key);
      await rm(path);
      expect(await firstKeyOf(data)).not.toBe(key);
      await writeFile(path, 'short');
      await expect(firstKeyOf(data)).rejects.toThrow('holds no key');
    } finally {
      await rm(data, { recursive: true });
    }
  });
});

/** A key for somebody. */
async function keyFor(
  role: string,
  albums: readonly string[] | null,
  name = 'Ada',
): Promise<{ id: string; key: string }> {
  const { status, body } = await harness.call<{ id: string; key: string }>('POST', '/keys', {
    name,
    role,
    albums,
  });
  expect(status).toBe(201);
  return body;
}

describe('a named key', () => {
  it('allows what its role allows, and nothing else', async () => {
    for (const role of ['engineer', 'assistant', 'guest'] as const) {
      const { key } = await keyFor(role, null);
      for (const { method, path, right, door, takesFile, body } of ENDPOINTS.filter(
        (each) => each.door !== 'none',
      )) {
        // Nothing of that name is there: a call that is allowed comes to that, or to its missing body.
        const filled = `/api${path.replace(/:\w+/g, door === 'any' ? 'x' : randomUUID())}`;
        if (path === '/session' || method === 'GET') continue;
        const type = { 'Content-Type': takesFile && !body ? 'application/octet-stream' : 'application/json' };
        const { status } = await raw(method, filled, { ...bearer(key), ...type });
        if (mayDo(role, right)) expect(status, `${role} ${method} ${path}`).not.toBe(403);
        else expect(status, `${role} ${method} ${path}`).toBe(403);
      }
    }
  });

  it('opens the albums that it was given, and nothing of any other', async () => {
    const mine = await albumWithTones(harness, [311]);
    const other = await albumWithTones(harness, [312]);
    for (const { id } of [mine, other]) await harness.call('POST', `/albums/${id}/deliveries`, { by: '' });
    await harness.work();
    const [delivery] = await deliveriesOf(harness, other.id);
    const note = await harness.call<{ id: string }>('POST', `/deliveries/${delivery?.id}/notes`, {
      path: 'x',
      seconds: 1,
      text: 'mine',
    });
    const { key } = await keyFor('assistant', [mine.id]);
    const ask = (method: string, path: string, body?: unknown) =>
      raw(
        method,
        `/api${path}`,
        { ...bearer(key), ...JSON_TYPE },
        body === undefined ? undefined : JSON.stringify(body),
      );
    const shelf = JSON.parse((await ask('GET', '/albums')).text) as { id: string }[];
    expect(shelf.map(({ id }) => id)).toEqual([mine.id]);
    const master = other.album.songs[0]?.region.master ?? '';
    for (const path of [
      ...['', '/masters', '/deliveries', '/revisions', '/revisions/1', '/file', '/bundle', '/events'].map(
        (end) => `/albums/${other.id}${end}`,
      ),
      ...['/files', '/zip', '/notes', '/files/proof.json', '/listen/image.wav'].map(
        (end) => `/deliveries/${delivery?.id}${end}`,
      ),
      ...['/audio', '/silhouette', '/powers'].map((end) => `/masters/${master}${end}`),
    ])
      expect((await ask('GET', path)).status, path).toBe(404);
    expect((await ask('PUT', `/notes/${note.body.id}`, { text: 'theirs' })).status).toBe(404);
    expect((await ask('GET', `/albums/${mine.id}`)).status).toBe(200);
    expect((await ask('GET', `/masters/${mine.album.songs[0]?.region.master}/audio`)).status).toBe(200);

    // By its sum: in a song, in a title that a revision keeps, in an album file.
    const { version, album } = (await harness.call<typeof mine>('GET', `/albums/${mine.id}`)).body;
    const stolen = album.songs.map((song) => ({ ...song, region: { ...song.region, master } }));
    const save = (songs: unknown, from: number) =>
      ask('PUT', `/albums/${mine.id}`, { version: from, album: { ...album, songs } });
    expect((await save(stolen, version)).status).toBe(422);
    const named = album.songs.map((song) => ({ ...song, title: `"master":"${master}"` }));
    expect((await save(named, version)).status).toBe(200);
    expect((await ask('POST', `/albums/${mine.id}/deliveries`, {})).status).toBe(202);
    expect((await save(stolen, version + 1)).status).toBe(422);
    expect((await ask('GET', `/masters/${master}/audio`)).status).toBe(404);
    const file = JSON.stringify({ format: 'oiseau-album', version: 1, tracks: [{ master: '312.wav' }] });
    for (const masters of [{}, { '312.wav': master }])
      expect((await ask('POST', '/album-files', { file, masters })).status).toBe(422);

    // What it brings in and makes it can reach.
    const sent = await fetch(`${harness.url}/api/masters?name=new.wav`, {
      method: 'POST',
      body: toneFile(313, 4),
      headers: { ...bearer(key), 'Content-Type': 'application/octet-stream' },
    });
    const { sha256 } = (await sent.json()) as { sha256: string };
    expect((await ask('GET', `/masters/${sha256}/audio`)).status).toBe(200);
    const made = JSON.parse((await ask('POST', '/albums', { title: 'new' })).text) as { id: string };
    expect((await ask('GET', `/albums/${made.id}`)).status).toBe(200);
  });

  it('shows no picture of other albums, nor puts one on a cover', async () => {
    const { default: sharp } = await import('sharp');
    const png = await sharp({ create: { width: 8, height: 8, channels: 3, background: '#345' } })
      .png()
      .toBuffer();
    const { body } = await harness.send<{ sha256: string }>('/pictures?name=a.png', new Uint8Array(png));
    const mine = await albumWithTones(harness, [321]);
    const { key } = await keyFor('assistant', [mine.id]);
    const { version, album } = (await harness.call<typeof mine>('GET', `/albums/${mine.id}`)).body;
    const put = await raw(
      'PUT',
      `/api/albums/${mine.id}`,
      { ...bearer(key), ...JSON_TYPE },
      JSON.stringify({
        version,
        album: { ...album, artwork: body.sha256 },
      }),
    );
    expect(put.status).toBe(404);
    expect((await raw('GET', `/api/pictures/${body.sha256}`, bearer(key))).status).toBe(404);
    await harness.call('PUT', `/albums/${mine.id}`, { version, album: { ...album, artwork: body.sha256 } });
    expect((await raw('GET', `/api/pictures/${body.sha256}`, bearer(key))).status).toBe(200);
  });

  it('of a guest changes its own notes alone, and each is signed', async () => {
    const { id } = await albumWithTones(harness, [331]);
    await harness.call('POST', `/albums/${id}/deliveries`, { by: '' });
    const [delivery] = await deliveriesOf(harness, id);
    const guest = await keyFor('guest', [id], 'Ebba');
    const other = await keyFor('guest', [id], 'Olin');
    const at = `/api/deliveries/${delivery?.id}/notes`;
    const note = JSON.stringify({ path: 'x', seconds: 1, text: 'softer' });
    const made = JSON.parse((await raw('POST', at, { ...bearer(guest.key), ...JSON_TYPE }, note)).text) as {
      id: string;
      author: string;
    };
    expect(made.author).toBe('Ebba');
    const change = (key: string) =>
      raw(
        'PUT',
        `/api/notes/${made.id}`,
        { ...bearer(key), ...JSON_TYPE },
        JSON.stringify({ text: 'louder' }),
      );
    expect((await change(other.key)).status).toBe(404);
    expect((await change(guest.key)).status).toBe(204);
  });

  it('asks for renders in its own name, and opens nothing once it was taken back', async () => {
    const { id } = await albumWithTones(harness, [341]);
    const ada = await keyFor('assistant', null, 'Ada Marr');
    const { Cookie } = await signIn(ada.key);
    await raw(
      'POST',
      `/api/albums/${id}/deliveries`,
      { Cookie, ...JSON_TYPE },
      JSON.stringify({ by: 'The boss' }),
    );
    expect((await deliveriesOf(harness, id))[0]?.askedBy).toBe('Ada Marr');
    expect((await raw('GET', '/api/session', { Cookie })).text).toContain('"shared":true');
    const { body } = await harness.call<KeyRecord[]>('GET', '/keys');
    expect(body.find((each) => each.id === ada.id)).toMatchObject({
      name: 'Ada Marr',
      role: 'assistant',
      albums: null,
    });
    expect(JSON.stringify(body)).not.toContain(ada.key);
    expect((await harness.call('DELETE', `/keys/${ada.id}`)).status).toBe(204);
    expect((await raw('GET', '/api/albums', { Cookie })).status).toBe(401);
    expect((await raw('GET', '/api/albums', bearer(ada.key))).status).toBe(401);
    expect((await harness.call('DELETE', `/keys/${ada.id}`)).status).toBe(404);
    expect((await harness.call('DELETE', '/keys/first')).status).toBe(409);
    expect((await harness.call('PUT', '/keys/first', { name: 'Olin' })).status).toBe(204);
    expect((await harness.call('GET', '/session')).body).toMatchObject({ name: 'Olin', first: true });
    await harness.db.execute("UPDATE access_keys SET name = '' WHERE id = 'first'");
  });
});

describe('the list of events', () => {
  it('tells who did what, from where, and is never changed', async () => {
    const { id } = await albumWithTones(harness, [351]);
    const ada = await keyFor('engineer', null, 'Ada');
    await raw(
      'POST',
      `/api/albums/${id}/deliveries`,
      { ...bearer(ada.key), ...JSON_TYPE },
      '{"deliverables":["image"]}',
    );
    await harness.work();
    const [delivery] = await deliveriesOf(harness, id);
    await raw('GET', `/api/deliveries/${delivery?.id}/files/image.wav`, bearer(ada.key));
    await raw('POST', `/api/deliveries/${delivery?.id}/clear`, { ...bearer(ada.key) });
    const { body } = await harness.call<Record<string, unknown>[]>('GET', `/albums/${id}/events`);
    expect(body.map(({ who, what, detail, bytes }) => [who, what, detail, bytes])).toEqual([
      ['Ada', 'cleared', 'revision 1, image', null],
      // Two seconds of pause are not in the file; five of sound are.
      ['Ada', 'downloaded', 'revision 1, image, image.wav', 44 + 375 * 2352],
      ['Ada', 'rendered', 'image', null],
      ['', 'uploaded', '351.wav', 44 + 5 * 44_100 * 4],
    ]);
    expect(body[0]?.from).toMatch(/127\.0\.0\.1$/);
    const all = await harness.call<{ id: number; what: string }[]>('GET', '/events');
    expect(all.body.some(({ what }) => what === 'key-made')).toBe(true);
    const older = await harness.call<{ id: number }[]>('GET', `/events?before=${all.body[0]?.id}`);
    expect(older.body[0]?.id).toBe(all.body[1]?.id);
    await expect(harness.db.execute('DELETE FROM events')).rejects.toThrow('never taken out');
    await expect(harness.db.execute("UPDATE events SET who = 'x'")).rejects.toThrow('never changed');
  });
});

describe('behind a proxy with TLS', () => {
  it('answers to its public name alone besides its own, keeps its cookie to TLS, and believes that proxy on who asks', async () => {
    const { db, media, worker } = harness;
    const names = { hosts: new Set(['studio.example']), origins: new Set(['https://studio.example']) };
    const parts = {
      db,
      media,
      uploads: new Uploads(media),
      thinker: thinkHere,
      log: worker.log,
      web: media.root,
      names,
    };
    const server = createApp({ ...parts, trustProxy: ['127.0.0.1'] }).listen(0, '127.0.0.1');
    await once(server, 'listening');
    const { port } = server.address() as AddressInfo;
    const ask = (method: string, headers: Record<string, string>, body?: string) =>
      raw(method, `http://127.0.0.1:${port}/api/session`, headers, body);
    try {
      const forwarded = { 'X-Forwarded-For': '203.0.113.9', 'X-Forwarded-Proto': 'https' };
      const key = JSON.stringify({ key: harness.key });
      const inside = { Host: 'studio.example', Origin: 'https://studio.example', ...JSON_TYPE, ...forwarded };
      const { status, headers } = await ask('POST', inside, key);
      expect(status).toBe(200);
      expect(headers['set-cookie']?.[0]).toMatch(/; Secure/);
      expect(headers['strict-transport-security']).toBe('max-age=31536000');
      for (const wrong of [{ Origin: 'http://studio.example' }, { Origin: 'https://other.example' }])
        expect((await ask('POST', { ...inside, ...wrong }, key)).status).toBe(403);
      expect((await ask('GET', { ...bearer(), Host: 'other.example' })).status).toBe(421);
      const from = await db.many((row) => row.origin, 'SELECT origin FROM events ORDER BY id DESC LIMIT 1');
      expect(from).toEqual(['203.0.113.9']);
    } finally {
      server.closeAllConnections();
      server.close();
    }
  });
});

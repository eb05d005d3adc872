import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { request } from 'node:http';
import type { AddressInfo } from 'node:net';
import { ENDPOINTS, type Endpoint } from '@oiseau/api';
import type { Router } from 'express';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createApp } from '../app.js';
import { Uploads } from '../media/uploads.js';
import { startHarness, type Harness } from '../testing/harness.js';
import { bearer, JSON_TYPE, raw, signIn } from '../testing/raw-requests.js';
import { computeHere } from '../compute/pools.js';
import { waitFor } from './sign-in-throttle.js';
import { servedBy } from './serve.js';

let harness: Harness;
beforeAll(async () => {
  harness = await startHarness();
});
afterAll(() => harness.close());

const title = JSON.stringify({ title: 'made from elsewhere' });
const titles = async (): Promise<string[]> =>
  (await harness.call<{ albums: { title: string }[] }>('GET', '/albums')).body.albums.map(
    (album) => album.title,
  );

describe('a page of another site', () => {
  it.each(['evil.example', 'evil.example:4680', '127.0.0.1:1', 'localhost', '[::1'])(
    'that is bound to this machine by the name “%s” reads nothing',
    async (host) => {
      for (const path of ['/', '/api/albums', '/api/openapi.json'])
        expect((await raw(harness, 'GET', path, { ...bearer(harness.key), Host: host })).status).toBe(421);
    },
  );

  it.each(['127.0.0.1', 'localhost', '[::1]', 'LOCALHOST'])('is not one of ours by %s', async (name) => {
    const { port } = new URL(harness.url);
    expect(
      (await raw(harness, 'GET', '/api/albums', { ...bearer(harness.key), Host: `${name}:${port}` })).status,
    ).toBe(200);
  });

  it.each([
    { Origin: 'http://evil.example' },
    { Origin: 'null' },
    { Origin: 'http://127.0.0.1:1' },
    { 'Sec-Fetch-Site': 'cross-site' },
    { 'Sec-Fetch-Site': 'same-site' },
  ])('changes nothing: %o', async (headers: Record<string, string>) => {
    const { Cookie } = await signIn(harness);
    const before = await titles();
    const made = await raw(harness, 'POST', '/api/albums', { ...headers, ...JSON_TYPE, Cookie }, title);
    expect([made.status, made.headers['access-control-allow-origin']]).toEqual([403, undefined]);
    const sent = await raw(harness, 'POST', '/api/uploads', {
      ...{ ...headers, Cookie },
      ...{ 'Tus-Resumable': '1.0.0', 'Upload-Length': '9' },
    });
    expect(sent.status).toBe(403);
    expect(await titles()).toEqual(before);
  });

  it('changes nothing by a form, which can set no media type of ours and no header', async () => {
    const { Cookie } = await signIn(harness);
    const { id } = (await harness.call<{ id: string }>('POST', '/albums', { title: 'stays' })).body;
    for (const type of ['text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data; boundary=x'])
      expect(
        (await raw(harness, 'POST', '/api/albums', { Cookie, 'Content-Type': type }, title)).status,
      ).toBe(403);
    // No body, and so no media type: the copy of an album, a render that is stopped.
    expect((await raw(harness, 'POST', `/api/albums/${id}/duplicate`, { Cookie })).status).toBe(403);
    expect(
      (await raw(harness, 'POST', `/api/albums/${id}/duplicate`, { Cookie, 'X-Oiseau': '1' })).status,
    ).toBe(201);
  });

  it('is told nothing by uploads, and can’t embed what is here', async () => {
    const head = { 'Tus-Resumable': '1.0.0', 'Upload-Length': '9', ...bearer(harness.key) };
    const made = await raw(harness, 'POST', '/api/uploads', head);
    expect([made.status, made.headers['access-control-allow-origin']]).toEqual([201, undefined]);
    const place = made.headers.location ?? '';
    const asked = { ...head, Origin: 'http://evil.example' };
    expect((await raw(harness, 'HEAD', place, asked)).headers['access-control-allow-origin']).toBeUndefined();
    for (const method of ['GET', 'OPTIONS'])
      expect((await raw(harness, method, place, bearer(harness.key))).status).not.toBe(200);
    const page = (await raw(harness, 'GET', '/api/albums', bearer(harness.key))).headers;
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
      raw(harness, 'POST', path, { ...bearer(harness.key), 'Content-Type': type }, title);
    expect((await ask('application/json')).status).toBe(201);
    for (const type of ['application/octet-stream', 'application/x-www-form-urlencoded', 'text/json', 'x'])
      expect((await ask(type)).status, type).toBe(415);
    const { id } = (await harness.call<{ id: string }>('POST', '/albums', {})).body;
    expect((await ask('application/json', `/api/albums/${id}/duplicate`)).status).toBe(415);
  });

  it('is a megabyte at the most, but for albums', async () => {
    const long = JSON.stringify({ title: 'x'.repeat(1_000_001) });
    expect(
      (await raw(harness, 'POST', '/api/albums', { ...bearer(harness.key), ...JSON_TYPE }, long)).status,
    ).toBe(413);
  });
});

describe('whoever has no key', () => {
  it.each(
    ENDPOINTS.filter(({ door }) => door !== 'none').map((each) => [`${each.method} ${each.path}`, each]),
  )('is refused %s', async (_, { method, path }) => {
    const filled = `/api${path.replace(/:\w+/g, randomUUID())}`;
    const headers = method === 'GET' ? {} : { 'X-Oiseau': '1' };
    expect((await raw(harness, method, filled, headers)).status).toBe(401);
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
      expect((await raw(harness, 'GET', path)).status).toBe(401);
  });

  it('is slowed down, in the database, while the right key is never kept waiting', async () => {
    expect([1, 3, 4, 5, 6, 20].map(waitFor)).toEqual([0, 0, 250, 500, 1000, 5000]);
    const started = performance.now();
    for (let i = 0; i < 4; i++)
      expect((await raw(harness, 'GET', '/api/albums', bearer(`wrong${i}`))).status).toBe(401);
    expect(performance.now() - started).toBeGreaterThan(240);
    const tries = await harness.db.many((row) => Number(row.tries), 'SELECT tries FROM failed_tries');
    expect(tries).toEqual([4]);
    const many = await Promise.all(
      Array.from({ length: 20 }, () => raw(harness, 'GET', '/api/albums', bearer('wrong'))),
    );
    expect(new Set(many.map(({ status }) => status))).toEqual(new Set([401, 429]));
    expect((await raw(harness, 'GET', '/api/albums', bearer(harness.key))).status).toBe(200);
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
      pool: computeHere,
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
    expect(ENDPOINTS.filter(({ door }) => door === 'none').map(({ path }) => path)).toEqual([
      '/session',
      '/listening/:id/session',
    ]);
  });

  it.each([
    '/albums/:id',
    '/deliveries/:id/files',
    '/masters/:sha256/audio',
    '/pictures/:sha256',
    '/images/:id',
  ])('knows no odd id: %s', async (path) => {
    for (const odd of ['constructor', '__proto__', '%00', 'é', '..%2f..', "'%20OR%201", '0'.repeat(5000)])
      expect(
        (await raw(harness, 'GET', `/api${path.replace(/:\w+/, odd)}`, bearer(harness.key))).status,
        odd,
      ).toBe(404);
    expect(
      (await raw(harness, 'GET', `/api${path.replace(/:\w+/, '%ff')}`, bearer(harness.key))).status,
    ).toBe(400);
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
      pool: computeHere,
      log: worker.log,
      web: media.root,
      names,
    };
    const server = createApp({ ...parts, trustProxy: ['127.0.0.1'] }).listen(0, '127.0.0.1');
    await once(server, 'listening');
    const { port } = server.address() as AddressInfo;
    const ask = (method: string, headers: Record<string, string>, body?: string) =>
      raw(harness, method, `http://127.0.0.1:${port}/api/session`, headers, body);
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
      expect((await ask('GET', { ...bearer(harness.key), Host: 'other.example' })).status).toBe(421);
      const from = await db.many((row) => row.origin, 'SELECT origin FROM events ORDER BY id DESC LIMIT 1');
      expect(from).toEqual(['203.0.113.9']);
    } finally {
      server.closeAllConnections();
      server.close();
    }
  });
});

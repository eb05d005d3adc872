import { readdir, utimes, writeFile } from 'node:fs/promises';
import { request } from 'node:http';
import { join } from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { afterEach, describe, expect, it } from 'vitest';
import { albumWithTones, startHarness, toneFile, type Harness } from '../testing/harness.js';
import { Uploads } from './uploads.js';

let harness: Harness;
afterEach(() => harness.close());

const TUS = { 'Tus-Resumable': '1.0.0' };
const begin = (bytes: number, key = harness.key) =>
  fetch(`${harness.url}/api/uploads`, {
    method: 'POST',
    headers: { ...TUS, 'Upload-Length': String(bytes), Authorization: `Bearer ${key}` },
  });
const patch = (place: string, bytes: Uint8Array<ArrayBuffer>, key = harness.key) =>
  fetch(`${harness.url}${place}`, {
    method: 'PATCH',
    body: bytes,
    headers: {
      ...TUS,
      ...{ 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' },
      Authorization: `Bearer ${key}`,
    },
  });
const placeOf = (answer: Response): string => answer.headers.get('location') ?? '';
const left = (): Promise<string[]> => readdir(harness.media.uploads);

describe('the disk', () => {
  it('keeps a reserve: nothing is begun that would take it, and the sentence says so', async () => {
    harness = await startHarness({ reserve: 1e18 });
    const answer = await begin(1000);
    expect(answer.status).toBe(507);
    expect(await answer.json()).toMatchObject({
      error: expect.stringMatching(/^The disk is too full: /) as string,
    });
    const sent = await harness.send<{ error: string }>('/masters?name=a.wav', toneFile(400, 1));
    expect([sent.status, sent.body.error.startsWith('The disk is too full')]).toEqual([507, true]);
    expect((await begin(1e15)).status).toBe(507);
    expect(await readdir(harness.media.root, { recursive: true })).toEqual([
      ...['heard', 'images', 'incoming', 'uploads'],
    ]);
  });

  it('gives one album no more than its share', async () => {
    harness = await startHarness({ albumQuota: 1_500_000 });
    const { id } = await albumWithTones(harness, [401]);
    const more = await harness.send<{ error: string }>(`/albums/${id}/masters?name=b.wav`, toneFile(402, 5));
    expect(more.status).toBe(507);
    expect(more.body.error).toBe('This album has 0.0 GB of masters; the maximum is 0.0 GB.');
    const { id: other } = (await harness.call<{ id: string }>('POST', '/albums', {})).body;
    expect((await harness.send(`/albums/${other}/masters?name=b.wav`, toneFile(402, 5))).status).toBe(201);
  });
});

describe('uploads', () => {
  it('are two hundred at a time for one key, and say how long they are', async () => {
    harness = await startHarness();
    for (const odd of ['-1', 'x', '1e99', '']) {
      const headers = { ...TUS, 'Upload-Length': odd, Authorization: `Bearer ${harness.key}` };
      expect((await fetch(`${harness.url}/api/uploads`, { method: 'POST', headers })).status, odd).toBe(400);
    }
    for (let i = 0; i < 200; i++) expect((await begin(10)).status).toBe(201);
    expect((await begin(10)).status).toBe(429);
    const { body } = await harness.call<{ key: string }>('POST', '/keys', {
      name: 'Ada',
      role: 'assistant',
      albums: null,
    });
    expect((await begin(10, body.key)).status).toBe(201);
  });

  it('belong to the key that began them, and know no other methods and ids', async () => {
    harness = await startHarness();
    const place = placeOf(await begin(8));
    const { body } = await harness.call<{ key: string }>('POST', '/keys', {
      name: 'Ada',
      role: 'assistant',
      albums: null,
    });
    const theirs = { ...TUS, Authorization: `Bearer ${body.key}` };
    for (const method of ['HEAD', 'DELETE'])
      expect((await fetch(`${harness.url}${place}`, { method, headers: theirs })).status).toBe(404);
    expect((await patch(place, new Uint8Array(8), body.key)).status).toBe(404);
    const id = place.split('/').at(-1) ?? '';
    const take = { upload: id, name: 'a.wav' };
    const taken = await fetch(`${harness.url}/api/masters`, {
      method: 'POST',
      body: JSON.stringify(take),
      headers: { ...theirs, 'Content-Type': 'application/json' },
    });
    expect(taken.status).toBe(404);
    for (const odd of ['..%2f..', 'x', `${id}.json`, `${id}%00`, id.toUpperCase()])
      expect((await harness.fetch(`/api/uploads/${odd}`, { method: 'HEAD', headers: TUS })).status, odd).toBe(
        404,
      );
    for (const method of ['GET', 'PUT'])
      expect((await harness.fetch(place, { method, headers: { ...TUS, 'X-Oiseau': '1' } })).status).toBe(404);
    expect(await left()).toEqual([id, `${id}.json`]);
  });

  it('that hang up leave the server as it was', async () => {
    harness = await startHarness();
    const place = placeOf(await begin(1_000_000));
    for (const method of ['GET', 'HEAD', 'PATCH', 'POST'])
      await new Promise<void>((resolve) => {
        const asked = request(`${harness.url}${method === 'POST' ? '/api/uploads' : place}`, {
          method,
          headers: {
            ...{ ...TUS, Authorization: `Bearer ${harness.key}`, 'Upload-Length': '1000000' },
            ...{ 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' },
            'Content-Length': '1000000',
          },
        });
        asked.on('error', () => resolve());
        asked.on('close', () => resolve());
        asked.write(new Uint8Array(1000), () => setTimeout(() => asked.destroy(new Error('hung up')), 30));
      });
    await expect
      .poll(async () => (await harness.fetch(place, { method: 'HEAD', headers: TUS })).status)
      .toBe(200);
  });

  it('are taken out of reach before they are judged; what a killed server had taken can be asked for again', async () => {
    harness = await startHarness();
    const file = toneFile(405, 1);
    const place = placeOf(await begin(file.length));
    const id = place.split('/').at(-1) ?? '';
    expect((await patch(place, file)).status).toBe(204);
    const uploads = new Uploads(harness.media);
    const visitor = { keyId: 'first', name: '', role: 'engineer', opensAll: true, from: '' } as const;
    await uploads.claim(visitor, id);
    expect((await patch(place, file)).status).not.toBe(204);
    await expect(uploads.claim(visitor, id)).rejects.toMatchObject({ status: 409 });
    await uploads.prepare();
    expect((await harness.call('POST', '/masters', { upload: id, name: 'a.wav' })).status).toBe(201);
    expect(await left()).toEqual([]);
  });

  it('that nobody has touched for a day are swept, bytes and record together', async () => {
    harness = await startHarness();
    const [old, fresh] = [placeOf(await begin(8)), placeOf(await begin(8))].map(
      (place) => place.split('/').at(-1) ?? '',
    );
    const yesterday = new Date(Date.now() - 25 * 3600 * 1000);
    for (const name of [`${old}`, `${old}.json`])
      await utimes(join(harness.media.uploads, name), yesterday, yesterday);
    await writeFile(join(harness.media.uploads, 'not-ours'), '');
    await new Uploads(harness.media).sweep();
    expect((await left()).sort()).toEqual([fresh, `${fresh}.json`, 'not-ours'].sort());
  });
});

describe('a file that is cut into many pieces', () => {
  it('is given up after ten thousand, and the server answers others meanwhile', async () => {
    harness = await startHarness();
    const head = Buffer.from(toneFile(406, 1)).subarray(0, 36);
    const junk = Buffer.alloc(8 * 500_000);
    for (let at = 0; at < junk.length; at += 8) junk.write('JUNK', at);
    const file = new Uint8Array(Buffer.concat([head, junk, Buffer.from(toneFile(406, 1)).subarray(36)]));
    const delay = monitorEventLoopDelay({ resolution: 5 });
    delay.enable();
    const { status, body } = await harness.send('/masters?name=a.wav', file);
    delay.disable();
    expect([status, body.reason]).toEqual([415, 'truncated']);
    expect(delay.max / 1e6).toBeLessThan(500);
  });
});

describe('renders', () => {
  it('are two hundred at a time for one key', async () => {
    harness = await startHarness();
    const { id } = await albumWithTones(harness, [407]);
    for (let i = 0; i < 100; i++)
      expect((await harness.call('POST', `/albums/${id}/deliveries`, {})).status).toBe(202);
    expect(await harness.call('POST', `/albums/${id}/deliveries`, {})).toMatchObject({
      status: 429,
      body: { error: '200 renders are already in progress. Wait for some of them to finish.' },
    });
  });
});

import { randomUUID } from 'node:crypto';
import { mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ENDPOINTS, mayDo, type KeyRecord } from '@oiseau/api';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, deliveriesOf, startHarness, toneFile, type Harness } from '../testing/harness.js';
import { askWith, bearer, JSON_TYPE, raw, signIn } from '../testing/raw-requests.js';
import { firstKeyOf } from './access-key.js';
import { hashOf, keepFirstKey } from './key-repository.js';

let harness: Harness;
beforeAll(async () => {
  harness = await startHarness();
});
afterAll(() => harness.close());

describe('a session', () => {
  it('is a cookie that scripts and other sites never see, kept as a hash, and ends', async () => {
    const { Cookie, header } = await signIn(harness);
    expect(header).toMatch(/; HttpOnly/);
    expect(header).toMatch(/; SameSite=Strict/);
    expect(header).not.toMatch(/Secure/);
    expect((await raw(harness, 'GET', '/api/session', { Cookie })).text).toBe(
      JSON.stringify({
        name: '',
        role: 'engineer',
        first: true,
        id: 'first',
        unlimited: true,
        shared: false,
      }),
    );
    const token = Cookie.split('=')[1] ?? '';
    const hashes = await harness.db.many((row) => String(row.hash), 'SELECT hash FROM sessions');
    expect(hashes).toContain(hashOf(token));
    expect(hashes).not.toContain(token);
    await raw(harness, 'DELETE', '/api/session', { Cookie, 'X-Oiseau': '1' });
    expect((await raw(harness, 'GET', '/api/session', { Cookie })).status).toBe(401);
    const late = await signIn(harness);
    await harness.db.execute('UPDATE sessions SET ends_at = UTC_TIMESTAMP(3)');
    expect((await raw(harness, 'GET', '/api/session', late)).status).toBe(401);
  });

  it('ends with the key that it was traded for', async () => {
    const { Cookie } = await signIn(harness);
    await keepFirstKey(harness.db, harness.key);
    expect((await raw(harness, 'GET', '/api/session', { Cookie })).status).toBe(200);
    await keepFirstKey(harness.db, 'another-key-that-lies-in-the-file-since-today');
    expect((await raw(harness, 'GET', '/api/session', { Cookie })).status).toBe(401);
    expect((await raw(harness, 'GET', '/api/session', bearer(harness.key))).status).toBe(401);
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
      for (const text of ['short', '', '\0'.repeat(44)]) {
        await writeFile(path, text);
        const made = await firstKeyOf(data);
        expect(made).toMatch(/^[\w-]{43}$/);
        expect(await firstKeyOf(data)).toBe(made);
      }
    } finally {
      await rm(data, { recursive: true });
    }
  });
});

/** A key for a person. */
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
        const { status } = await raw(harness, method, filled, { ...bearer(key), ...type });
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
    const ask = (method: string, path: string, body?: unknown) => askWith(harness, key, method, path, body);
    const { albums: shelf } = JSON.parse((await ask('GET', '/albums')).text) as { albums: { id: string }[] };
    expect(shelf.map(({ id }) => id)).toEqual([mine.id]);
    const master = other.album.songs[0]?.region.master ?? '';
    for (const path of [
      ...['', '/masters', '/deliveries', '/revisions', '/revisions/1', '/file', '/bundle', '/events'].map(
        (end) => `/albums/${other.id}${end}`,
      ),
      ...['', '/audio', '/outline'].map((end) => `/deliveries/${delivery?.id}/heard/image.wav${end}`),
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
      harness,
      'PUT',
      `/api/albums/${mine.id}`,
      { ...bearer(key), ...JSON_TYPE },
      JSON.stringify({
        version,
        album: { ...album, artwork: body.sha256 },
      }),
    );
    expect(put.status).toBe(404);
    expect((await raw(harness, 'GET', `/api/pictures/${body.sha256}`, bearer(key))).status).toBe(404);
    await harness.call('PUT', `/albums/${mine.id}`, { version, album: { ...album, artwork: body.sha256 } });
    expect((await raw(harness, 'GET', `/api/pictures/${body.sha256}`, bearer(key))).status).toBe(200);
  });

  it('of a guest changes its own notes alone, and each is signed', async () => {
    const { id } = await albumWithTones(harness, [331]);
    await harness.call('POST', `/albums/${id}/deliveries`, { by: '' });
    const [delivery] = await deliveriesOf(harness, id);
    const guest = await keyFor('guest', [id], 'Ebba');
    const other = await keyFor('guest', [id], 'Olin');
    const at = `/api/deliveries/${delivery?.id}/notes`;
    const note = JSON.stringify({ path: 'x', seconds: 1, text: 'softer' });
    const made = JSON.parse(
      (await raw(harness, 'POST', at, { ...bearer(guest.key), ...JSON_TYPE }, note)).text,
    ) as {
      id: string;
      author: string;
    };
    expect(made.author).toBe('Ebba');
    const change = (key: string) =>
      raw(
        harness,
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
    const { Cookie } = await signIn(harness, ada.key);
    await raw(
      harness,
      'POST',
      `/api/albums/${id}/deliveries`,
      { Cookie, ...JSON_TYPE },
      JSON.stringify({ by: 'The boss' }),
    );
    expect((await deliveriesOf(harness, id))[0]?.askedBy).toBe('Ada Marr');
    expect((await raw(harness, 'GET', '/api/session', { Cookie })).text).toContain('"shared":true');
    const { body } = await harness.call<KeyRecord[]>('GET', '/keys');
    expect(body.find((each) => each.id === ada.id)).toMatchObject({
      name: 'Ada Marr',
      role: 'assistant',
      albums: null,
    });
    expect(JSON.stringify(body)).not.toContain(ada.key);
    expect((await harness.call('DELETE', `/keys/${ada.id}`)).status).toBe(204);
    expect((await raw(harness, 'GET', '/api/albums', { Cookie })).status).toBe(401);
    expect((await raw(harness, 'GET', '/api/albums', bearer(ada.key))).status).toBe(401);
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
      harness,
      'POST',
      `/api/albums/${id}/deliveries`,
      { ...bearer(ada.key), ...JSON_TYPE },
      '{"deliverables":["image"]}',
    );
    await harness.work();
    const [delivery] = await deliveriesOf(harness, id);
    await raw(harness, 'GET', `/api/deliveries/${delivery?.id}/files/image.wav`, bearer(ada.key));
    await raw(harness, 'POST', `/api/deliveries/${delivery?.id}/clear`, { ...bearer(ada.key) });
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

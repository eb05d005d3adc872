import { randomUUID } from 'node:crypto';
import { ENDPOINTS, mayDo, ROLES, type Role } from '@oiseau/api';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, deliveriesOf, startHarness, type Harness } from '../testing/harness.js';
import { askWith, bearer, raw } from '../testing/raw-requests.js';

let harness: Harness;
let mine: { id: string };
let theirs: { id: string; master: string; delivery: string; note: string; invitation: string; key: string };

beforeAll(async () => {
  harness = await startHarness();
  mine = await albumWithTones(harness, [601]);
  const other = await albumWithTones(harness, [602], { title: 'Secret' });
  await harness.call('POST', `/albums/${other.id}/deliveries`, { deliverables: ['image'] });
  await harness.work();
  const [delivery] = await deliveriesOf(harness, other.id);
  const of = `/deliveries/${delivery?.id}`;
  const [rendered = { path: '' }] = (await harness.call<{ path: string }[]>('GET', `${of}/files`)).body;
  const made = async (path: string, body: object): Promise<string> =>
    (await harness.call<{ id: string }>('POST', path, body)).body.id;
  theirs = {
    id: other.id,
    master: other.album.songs[0]?.region.master ?? '',
    delivery: delivery?.id ?? '',
    note: await made(`${of}/notes`, { path: rendered.path, seconds: 1, text: 'note' }),
    invitation: await made(`${of}/invitations`, {
      name: 'Ben',
      endsAt: new Date(Date.now() + 86_400_000).toISOString(),
    }),
    key: await made('/keys', { name: 'Ben', role: 'engineer', albums: [other.id] }),
  };
});
afterAll(() => harness.close());

async function keyFor(role: Role, albums: readonly string[] | null, by = harness.key) {
  const { text, status } = await ask('POST', '/keys', by, { name: `${role} of some`, role, albums });
  return { status, ...(JSON.parse(text) as { id: string; key: string; error?: string }) };
}
const ask = (method: string, path: string, key: string, body?: unknown) =>
  askWith(harness, key, method, path, body);

/** Calls that concern the whole installation, written down by hand: a key to some albums makes none of them. */
const FOR_ALL_ALBUMS = [
  'POST /keeping/verify',
  'POST /keeping/verify/stop',
  'POST /receivers',
  'PUT /receivers/:id',
  'DELETE /receivers/:id',
  'DELETE /presets/:name',
  'DELETE /treatments/:name',
];

describe('every call of the contract, with every role, limited and unlimited', () => {
  it.each(ROLES)(
    'made with the key of one %s to some albums reaches nothing of any other album',
    async (role) => {
      const { key } = await keyFor(role, [mine.id]);
      for (const { method, path, door, right, unlimited, takesFile, body } of ENDPOINTS) {
        // Both forms of a call that takes JSON or a file go through one door; of a file alone the keys test sends one.
        if (takesFile && !body) continue;
        if (door === 'none' || door === 'listener' || path.includes('/listening/')) continue;
        const call = `${method} ${path}`;
        expect(unlimited, call).toBe(FOR_ALL_ALBUMS.includes(call));
        const ids = {
          delivery: theirs.delivery,
          note: theirs.note,
          invitation: theirs.invitation,
          key: theirs.key,
        };
        const id = ids[door as keyof typeof ids] ?? theirs.id;
        const filled = path
          .replace(':id', door === 'any' ? randomUUID() : id)
          .replace(':sha256', theirs.master)
          .replace(/:\w+/g, '1');
        const { status, text } = await ask(
          method,
          filled,
          key,
          method === 'POST' || method === 'PUT' ? {} : undefined,
        );
        if (!mayDo(role, right) || unlimited) expect(status, `${role} ${call}`).toBe(403);
        else if (door !== 'any' && door !== 'receiver') expect(status, `${role} ${call}`).toBe(404);
        expect(text, `${role} ${call}`).not.toContain('Secret');
        expect(text, `${role} ${call}`).not.toContain(theirs.id);
      }
    },
  );

  it.each(ROLES)('made with the key of one %s to all albums depends on the role alone', async (role) => {
    const { key } = await keyFor(role, null);
    for (const call of FOR_ALL_ALBUMS) {
      const [method = '', path = ''] = call.split(' ');
      const { status } = await ask(
        method,
        path.replace(/:\w+/, 'none'),
        key,
        method === 'DELETE' ? undefined : {},
      );
      if (role === 'engineer') expect(status, call).not.toBe(403);
      else expect(status, call).toBe(403);
    }
  });
});

describe('an engineer’s key to some albums', () => {
  it('grants no more than it has', async () => {
    const own = await keyFor('engineer', [mine.id]);
    expect(await keyFor('engineer', null, own.key)).toMatchObject({ status: 403 });
    expect(await keyFor('guest', [theirs.id], own.key)).toMatchObject({ status: 404 });
    expect(await keyFor('guest', [mine.id, theirs.id], own.key)).toMatchObject({ status: 404 });
    expect(await keyFor('guest', [randomUUID()])).toMatchObject({ status: 404 });
    const given = await keyFor('assistant', [mine.id], own.key);
    expect(given.status).toBe(201);
    expect((await ask('GET', `/albums/${mine.id}`, given.key)).status).toBe(200);
  });

  it('sees, names and revokes the keys that it has made, and no others', async () => {
    const own = await keyFor('engineer', [mine.id]);
    const given = await keyFor('guest', [mine.id], own.key);
    const { text } = await ask('GET', '/keys', own.key);
    const listed = (JSON.parse(text) as { id: string }[]).map(({ id }) => id);
    expect(new Set(listed)).toEqual(new Set([own.id, given.id]));
    for (const other of ['first', theirs.key]) {
      expect((await ask('PUT', `/keys/${other}`, own.key, { name: 'Mallory' })).status).toBe(404);
      expect((await ask('DELETE', `/keys/${other}`, own.key)).status).toBe(404);
    }
    expect((await ask('DELETE', `/keys/${own.id}`, own.key)).status).toBe(409);
    expect((await ask('DELETE', `/keys/${given.id}`, own.key)).status).toBe(204);
  });

  it('reads the activity and the bin of its own albums, and empties that bin alone', async () => {
    const [a, b] = [await albumWithTones(harness, [603]), await albumWithTones(harness, [604])];
    const own = await keyFor('engineer', [a.id]);
    await harness.call('DELETE', `/albums/${a.id}`);
    await harness.call('DELETE', `/albums/${b.id}`);
    const events = JSON.parse((await ask('GET', '/events', own.key)).text) as {
      album: { id: string } | null;
    }[];
    expect(events.length).toBeGreaterThan(0);
    expect(events.every(({ album }) => album === null || album.id === a.id)).toBe(true);
    const storage = JSON.parse((await ask('GET', '/keeping', own.key)).text) as {
      bin: { id: string }[];
      unused: unknown[];
    };
    expect(storage.bin.map(({ id }) => id)).toEqual([a.id]);
    expect(storage.unused).toEqual([]);
    for (const what of ['unused', 'passing'])
      expect((await ask('POST', '/keeping/clear', own.key, { what })).status).toBe(403);
    expect((await ask('POST', '/keeping/clear', own.key, { what: 'bin' })).status).toBe(200);
    expect((await harness.call('POST', `/albums/${b.id}/restore`)).status).toBe(204);
    expect((await harness.call('POST', `/albums/${a.id}/restore`)).status).toBe(404);
  });

  it('adds presets, and replaces none', async () => {
    const own = await keyFor('engineer', [mine.id]);
    const preset = { name: 'x', kind: 'cue' };
    expect((await ask('PUT', '/presets/Shared', harness.key, preset)).status).toBe(200);
    expect((await ask('PUT', '/presets/shared', own.key, preset)).status).toBe(403);
    expect((await ask('PUT', '/presets/New', own.key, preset)).status).toBe(200);
  });
});

describe('a key that is revoked', () => {
  it('has its uploads forgotten, its downloads cut and its renders stopped', async () => {
    const { id, key } = await keyFor('assistant', [mine.id]);
    const begun = await raw(harness, 'POST', '/api/uploads', {
      ...bearer(key),
      'Tus-Resumable': '1.0.0',
      'Upload-Length': '1000',
      'X-Oiseau': '1',
    });
    expect(begun.status).toBe(201);
    expect(
      (await ask('POST', `/albums/${mine.id}/deliveries`, key, { deliverables: ['image'] })).status,
    ).toBe(202);
    // An upload whose body never ends.
    const hanging = fetch(`${harness.url}/api/masters?name=slow.wav`, {
      method: 'POST',
      headers: { ...bearer(key), 'Content-Type': 'application/octet-stream' },
      body: new ReadableStream({ start: (controller) => controller.enqueue(new Uint8Array(1000)) }),
      duplex: 'half',
    } as RequestInit).then(
      () => 'answered',
      () => 'cut',
    );
    await new Promise((resolve) => setTimeout(resolve, 200));
    expect((await harness.call('DELETE', `/keys/${id}`)).status).toBe(204);
    expect(await hanging).toBe('cut');
    expect(await deliveriesOf(harness, mine.id)).toMatchObject([{ state: 'stopped' }]);
    expect(
      (await import('node:fs/promises').then(({ readdir }) => readdir(harness.media.uploads))).length,
    ).toBe(0);
  });
});

describe('answers', () => {
  it('are private for caches', async () => {
    for (const path of [
      `/albums/${theirs.id}`,
      `/masters/${theirs.master}/audio`,
      `/deliveries/${theirs.delivery}/files/proof.json`,
      '/albums',
    ]) {
      const answer = await harness.fetch(`/api${path}`);
      expect(answer.headers.get('cache-control'), path).toMatch(/^private/);
      await answer.arrayBuffer();
    }
  });
});

import { createHash, randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import {
  ENDPOINTS,
  type AnswerRecord,
  type InvitationRecord,
  type ListeningPageRecord,
  type NoteRecord,
} from '@oiseau/api';
import { deliverableSchema, type Album } from '@oiseau/album/model';
import { moveTracks } from '@oiseau/album/edits';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { hashOf } from '../access/key-repository.js';
import { emptyBin } from '../maintenance/housekeeping.js';
import { albumWithTones, deliveriesOf, startHarness, type Harness } from '../testing/harness.js';
import { bearer, JSON_TYPE, raw, rawAt, type Raw } from '../testing/raw-requests.js';
import { demandRendered } from './rendered.js';

const FILE = 'audio/listen.wav';
const inDays = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString();

let harness: Harness;
let album: { id: string; version: number; album: Album };
let deliveryId: string;
beforeAll(async () => {
  harness = await startHarness();
  album = await proved([440, 550]);
  deliveryId = await newest(album.id);
});
afterAll(() => harness.close());

/** An album of tones of 5 s, 2 s apart, rendered as one file to listen to. */
async function proved(tones: readonly number[]) {
  const deliverables = [deliverableSchema.parse({ name: 'listen', kind: 'listening', format: 'wav' })];
  // A new track begins 2 s after the one before.
  const made = await albumWithTones(harness, tones, { deliverables });
  await render(made.id);
  return made;
}

async function render(id: string): Promise<void> {
  await harness.call('POST', `/albums/${id}/deliveries`, {});
  await harness.work();
}

async function newest(id: string): Promise<string> {
  const [delivery] = await deliveriesOf(harness, id);
  if (!delivery?.proof?.proved) throw new Error('It is rendered and proved.');
  return delivery.id;
}

interface Invited {
  readonly id: string;
  readonly secret: string;
}
const invite = (change: object = {}, delivery = deliveryId) =>
  harness.call<Invited & { error: string }>('POST', `/deliveries/${delivery}/invitations`, {
    ...{ name: 'Ebba Thole', endsAt: inDays(7) },
    ...change,
  });
async function invited(change: object = {}, delivery = deliveryId): Promise<Invited> {
  const { status, body } = await invite(change, delivery);
  expect(status).toBe(201);
  return body;
}

const come = (id: string, secret: string, password?: string): Promise<Raw> =>
  raw(
    harness,
    'POST',
    `/api/listening/${id}/session`,
    JSON_TYPE,
    JSON.stringify({ secret, ...(password === undefined ? {} : { password }) }),
  );
const cookieOf = ({ headers }: Raw): string => String(headers['set-cookie']).split(';')[0] ?? '';

/** A listener with a link. */
async function listener(given: Invited, password?: string) {
  const answer = await come(given.id, given.secret, password);
  expect(answer.status).toBe(204);
  const Cookie = cookieOf(answer);
  return {
    Cookie,
    ask: (method: string, path: string, body?: unknown) =>
      raw(
        harness,
        method,
        `/api/listening/${given.id}${path}`,
        { Cookie, 'X-Oiseau': '1', ...(body === undefined ? {} : JSON_TYPE) },
        body === undefined ? undefined : JSON.stringify(body),
      ),
  };
}
const pageOf = async (of: { ask: (method: string, path: string) => Promise<Raw> }) =>
  JSON.parse((await of.ask('GET', '')).text) as ListeningPageRecord;
const notePath = (path: string): string => `/heard/${encodeURIComponent(path)}`;

describe('somebody without a key', () => {
  it('hears the very file, tracks and gaps as they lie in it, notes moments and answers', async () => {
    const given = await invited();
    const ebba = await listener(given);
    const page = await pageOf(ebba);
    // Two tones of 5 s, 2 s apart: the file begins with the first mark, and each mark stands on a frame before its tone.
    expect(page).toMatchObject({
      name: 'Ebba Thole',
      title: 'Nine Tides',
      revision: 1,
      hasCover: false,
      earlier: [],
    });
    const [row] = page.rows;
    expect(row?.files).toEqual([{ path: FILE, seconds: expect.closeTo(12, 1) as number }]);
    expect(row?.tracks.map(({ number, title }) => [number, title])).toEqual([
      [1, 'Tone 440'],
      [2, 'Tone 550'],
    ]);
    expect(row?.tracks[1]?.start).toBeCloseTo(7, 1);
    expect(row?.tracks[0]?.gap).toBeCloseTo(2, 1);
    expect(row?.tracks[1]?.gap).toBeNull();

    const { folder } = await demandRendered(harness.db, harness.media, deliveryId);
    const bytes = await readFile(`${folder}/${FILE}`);
    const heard = await fetch(`${harness.url}/api/listening/${given.id}${notePath(FILE)}/audio`, {
      headers: { Cookie: ebba.Cookie },
    });
    expect(Buffer.from(await heard.arrayBuffer()).equals(bytes)).toBe(true);
    expect((await ebba.ask('GET', `${notePath(FILE)}/outline?step=75`)).status).toBe(200);
    expect((await ebba.ask('GET', '/cover')).status).toBe(404);

    const made = await ebba.ask('POST', '/notes', { path: FILE, seconds: 7.5, text: 'too soon' });
    expect(made.status).toBe(201);
    const { id } = JSON.parse(made.text) as { id: string };
    expect((await ebba.ask('PUT', `/notes/${id}`, { text: 'a little too soon' })).status).toBe(204);
    const words = { verdict: 'change', words: 'More air, please.' };
    expect((await ebba.ask('POST', '/answers', words)).status).toBe(201);
    expect(JSON.parse((await ebba.ask('GET', '/said')).text)).toMatchObject({
      notes: [{ id, path: FILE, seconds: 7.5, text: 'a little too soon' }],
      answers: [words],
    });

    const notes = (await harness.call<NoteRecord[]>('GET', `/deliveries/${deliveryId}/notes`)).body;
    expect(notes).toMatchObject([{ author: 'Ebba Thole', fromListener: true, metAt: null, seconds: 7.5 }]);
    const answers = (await harness.call<AnswerRecord[]>('GET', `/deliveries/${deliveryId}/answers`)).body;
    expect(answers).toMatchObject([
      {
        name: 'Ebba Thole',
        ...words,
        files: [{ path: FILE, sha256: createHash('sha256').update(bytes).digest('hex') }],
      },
    ]);
    const events = (await harness.call<{ what: string; who: string }[]>('GET', `/albums/${album.id}/events`))
      .body;
    expect(events.slice(0, 3).map(({ what, who }) => [what, who])).toEqual([
      ['answered', 'Ebba Thole'],
      ['listened', 'Ebba Thole'],
      ['invited', ''],
    ]);
    const only = await harness.call<{ what: string }[]>('GET', `/albums/${album.id}/events?what=answered`);
    expect(only.body.map(({ what }) => what)).toEqual(['answered']);
    // Other people's notes stay; they are ticked off instead.
    expect((await harness.call('PUT', `/notes/${id}`, { text: 'fine' })).status).toBe(409);
    expect((await harness.call('DELETE', `/notes/${id}`)).status).toBe(409);
    expect((await harness.call('PUT', `/notes/${id}/tick`, { met: true })).status).toBe(204);
    expect(
      (await harness.call<NoteRecord[]>('GET', `/deliveries/${deliveryId}/notes`)).body[0]?.metAt,
    ).not.toBeNull();
  });

  it('sees on a newer revision which notes were met, and where their places are now', async () => {
    const { id, version, album: first } = await proved([610, 720]);
    const before = await newest(id);
    const given = await invited({}, before);
    const ebba = await listener(given);
    for (const [seconds, text] of [
      [8, 'too loud'],
      [1, 'too dull'],
    ] as const)
      await ebba.ask('POST', '/notes', { path: FILE, seconds, text });
    const notes = (await harness.call<NoteRecord[]>('GET', `/deliveries/${before}/notes`)).body;
    const loud = notes.find(({ text }) => text === 'too loud');
    await harness.call('PUT', `/notes/${loud?.id}/tick`, { met: true });

    // Turned over: what was the second track, noted 1 s after its tone began, is the first now.
    const turned = moveTracks(first, new Set(['t720']), -1);
    expect(await harness.call('PUT', `/albums/${id}`, { version, album: turned })).toMatchObject({
      status: 200,
    });
    await render(id);
    const after = await newest(id);
    const [{ listener: who } = { listener: '' }] = (
      await harness.call<InvitationRecord[]>('GET', `/albums/${id}/invitations`)
    ).body;
    const again = await listener(await invited({ listener: who }, after));
    const page = await pageOf(again);
    expect(page.revision).toBe(2);
    expect(page.earlier).toEqual([
      {
        revision: 1,
        notes: [
          {
            ...{ text: 'too dull', met: false, track: { number: 1, title: 'Tone 610' } },
            place: { row: 0, seconds: expect.closeTo(8, 1) as number },
          },
          {
            ...{ text: 'too loud', met: true, track: { number: 2, title: 'Tone 720' } },
            place: { row: 0, seconds: expect.closeTo(1, 1) as number },
          },
        ],
      },
    ]);
    // Another listener of the same delivery is told nothing of it.
    expect((await pageOf(await listener(await invited({ name: 'Ebba Thole' }, after)))).earlier).toEqual([]);
    // The address of the first revision goes on showing that one.
    expect((await pageOf(ebba)).revision).toBe(1);
  });
});

const list = async (): Promise<InvitationRecord[]> =>
  (await harness.call<InvitationRecord[]>('GET', `/albums/${album.id}/invitations`)).body;

describe('an address', () => {
  it('is kept as hashes alone, and opens by its secret, whose answer is a cookie of that invitation only', async () => {
    const given = await invited({ password: 'nine tides' });
    const stored = JSON.stringify(
      await harness.db.many((row) => row, 'SELECT * FROM invitations WHERE id = ?', [given.id]),
    );
    expect(stored).toContain(hashOf(given.secret));
    expect(stored).not.toContain(given.secret);
    expect(stored).not.toContain('nine tides');
    expect(JSON.stringify(await list())).not.toContain(given.secret);

    expect(await come(given.id, given.secret)).toMatchObject({
      status: 401,
      text: expect.stringContaining('"why":"password"') as string,
    });
    expect((await come(given.id, given.secret, 'ten tides')).text).toContain('wrong-password');
    const answer = await come(given.id, given.secret, 'nine tides');
    expect(answer.status).toBe(204);
    const header = String(answer.headers['set-cookie']);
    expect(header).toContain(`Path=/api/listening/${given.id};`);
    expect(header).toMatch(/HttpOnly/);
    expect(header).toMatch(/SameSite=Strict/);
    const token = cookieOf(answer).split('=')[1] ?? '';
    const hashes = await harness.db.many((row) => String(row.hash), 'SELECT hash FROM listener_sessions');
    expect(hashes).toContain(hashOf(token));
    expect(hashes).not.toContain(token);
  });

  it('that is not complete, of another invitation, over or taken back opens nothing, from the next request on', async () => {
    const [mine, other] = [await invited(), await invited({ name: 'Olin Marr' })];
    expect((await come(mine.id, mine.secret.slice(0, -1))).status).toBe(404);
    expect((await come(mine.id, other.secret)).status).toBe(404);
    expect((await come(randomUUID(), mine.secret)).status).toBe(404);
    const ebba = await listener(mine);
    const olin = await listener(other);
    expect((await ebba.ask('GET', '')).status).toBe(200);
    expect((await harness.call('DELETE', `/invitations/${mine.id}`)).status).toBe(204);
    for (const path of ['', '/said', `${notePath(FILE)}/audio`])
      expect((await ebba.ask('GET', path)).status).toBe(401);
    expect((await come(mine.id, mine.secret)).status).toBe(404);
    expect((await harness.call('DELETE', `/invitations/${mine.id}`)).status).toBe(404);
    await harness.db.execute('UPDATE invitations SET ends_at = UTC_TIMESTAMP(3) WHERE id = ?', [other.id]);
    expect((await olin.ask('GET', '')).status).toBe(401);
    expect(await come(other.id, other.secret)).toMatchObject({
      status: 410,
      text: expect.stringContaining('"why":"ended"') as string,
    });
    expect((await list()).find(({ id }) => id === mine.id)?.takenBackAt).not.toBeNull();
  });

  it.each([
    ['an end that lies behind', { endsAt: inDays(-1) }, 422],
    ['an end in years', { endsAt: inDays(800) }, 422],
    ['no end', { endsAt: '' }, 400],
    ['no name', { name: ' ' }, 400],
    ['a password of three characters', { password: 'abc' }, 400],
    ['a listener that nobody knows', { listener: randomUUID() }, 404],
  ])('is not made for %s', async (_, change, status) => {
    expect((await invite(change)).status).toBe(status);
  });

  it('is made by who may work on that album, for what is proved and can be heard', async () => {
    const key = async (role: string, albums: readonly string[] | null) =>
      (await harness.call<{ key: string }>('POST', '/keys', { name: 'Ada', role, albums })).body.key;
    const ask = async (of: string) =>
      (
        await raw(
          harness,
          'POST',
          `/api/deliveries/${deliveryId}/invitations`,
          { ...bearer(of), ...JSON_TYPE },
          JSON.stringify({ name: 'Ebba', endsAt: inDays(1) }),
        )
      ).status;
    const other = await albumWithTones(harness, [311]);
    expect(await ask(await key('guest', null))).toBe(403);
    expect(await ask(await key('assistant', [other.id]))).toBe(404);
    expect(await ask(await key('assistant', [album.id]))).toBe(201);
    await harness.call('POST', `/albums/${other.id}/deliveries`, {});
    const [waits] = await deliveriesOf(harness, other.id);
    expect((await invite({}, waits?.id)).status).toBe(409);
  });
});

describe('an attacker with an address', () => {
  it('reaches no call but those of that invitation, by whatever path', async () => {
    const given = await invited();
    const other = await invited({ name: 'Olin Marr' });
    const { Cookie } = await listener(given);
    for (const { method, path, door } of ENDPOINTS.filter(
      (each) => !['none', 'listener'].includes(each.door),
    )) {
      const id =
        { album: album.id, delivery: deliveryId, invitation: given.id }[door as string] ?? randomUUID();
      const filled = `/api${path.replace(/:id/g, id).replace(/:\w+/g, '1')}`;
      const { status } = await raw(harness, method, filled, { Cookie, 'X-Oiseau': '1' });
      expect(status, `${method} ${path}`).toBe(401);
    }
    // The cookie of one invitation, shown at another.
    for (const path of ['', '/said', '/cover', `${notePath(FILE)}/audio`])
      expect((await raw(harness, 'GET', `/api/listening/${other.id}${path}`, { Cookie })).status, path).toBe(
        401,
      );
    const { hostname, port } = new URL(harness.url);
    for (const path of [
      `/api/listening/${given.id}/../../albums`,
      `/api/listening/${given.id}/%2e%2e/%2e%2e/albums`,
      `/api/listening/${given.id}/heard`,
      `/api//listening/${given.id}`,
      `/api/uploads/${given.id}`,
      '/api/openapi.json',
    ])
      expect([401, 404], path).toContain((await rawAt({ hostname, port, path, headers: { Cookie } })).status);
    // A key is of no use there, not even the first.
    expect((await raw(harness, 'GET', `/api/listening/${given.id}`, bearer(harness.key))).status).toBe(401);
  });

  it('reads no file but the audio of that delivery', async () => {
    const ebba = await listener(await invited());
    for (const path of [
      ...['listen.html', 'proof.json', 'SHA256SUMS', '../listen/audio/listen.wav', '/etc/passwd', 'audio'],
      ...['audio/../audio/listen.wav', '..%2f..%2fstore.id', 'audio/listen.wav\u0000'],
    ])
      for (const end of ['', '/audio', '/outline'])
        expect((await ebba.ask('GET', `${notePath(path)}${end}`)).status, path + end).toBe(404);
  });

  it('writes no note but of their own, on nothing else, and not without end', async () => {
    const [first, second] = [await invited(), await invited({ name: 'Olin Marr' })];
    const [ebba, olin] = [await listener(first), await listener(second)];
    const { id } = JSON.parse(
      (await ebba.ask('POST', '/notes', { path: FILE, seconds: 1, text: 'mine' })).text,
    ) as { id: string };
    expect((await olin.ask('PUT', `/notes/${id}`, { text: 'theirs' })).status).toBe(404);
    expect((await olin.ask('DELETE', `/notes/${id}`)).status).toBe(404);
    for (const [body, status] of [
      [{ path: 'listen.html', seconds: 1, text: '' }, 404],
      [{ path: '../x', seconds: 1, text: '' }, 404],
      [{ path: FILE, seconds: 13, text: '' }, 422],
      [{ path: FILE, seconds: -1, text: '' }, 400],
      [{ path: FILE, seconds: 1, text: 'x'.repeat(4001) }, 400],
      [{ path: FILE, seconds: 1, text: 'x'.repeat(60_000) }, 413],
      [{ path: FILE, seconds: 1, text: '', author: 'the engineer' }, 400],
    ] as const)
      expect((await olin.ask('POST', '/notes', body)).status, JSON.stringify(body).slice(0, 80)).toBe(status);
    await harness.db.execute(
      `INSERT INTO notes (id, delivery_id, key_id, invitation_id, author, path, seconds, text, created_at)
       SELECT UUID(), ?, NULL, ?, 'x', ?, seq, '', UTC_TIMESTAMP(3) FROM seq_1_to_999`,
      [deliveryId, second.id, FILE],
    );
    // One is left, however many come for it at once.
    const note = { path: FILE, seconds: 2, text: 'one more' };
    const notes = await Promise.all(Array.from({ length: 12 }, () => olin.ask('POST', '/notes', note)));
    expect(notes.map(({ status }) => status).sort()).toEqual([201, ...Array.from({ length: 11 }, () => 429)]);
    await harness.db.execute(
      `INSERT INTO answers (id, delivery_id, invitation_id, name, verdict, words, files, at)
       SELECT UUID(), ?, ?, 'x', 'change', '', '[]', UTC_TIMESTAMP(3) FROM seq_1_to_99`,
      [deliveryId, second.id],
    );
    const answer = { verdict: 'approved', words: '' };
    const answers = await Promise.all(Array.from({ length: 8 }, () => olin.ask('POST', '/answers', answer)));
    expect(answers.map(({ status }) => status).sort()).toEqual([
      201,
      ...Array.from({ length: 7 }, () => 429),
    ]);
    expect((await olin.ask('POST', '/answers', { verdict: 'yes', words: '' })).status).toBe(400);
    // What was said stays words: nothing of it is a name for anybody else.
    expect((await ebba.ask('GET', '/said')).text).not.toContain('one more');
  });

  it('is slowed down at the secret and at the password', async () => {
    const given = await invited({ password: 'nine tides' });
    const passwordOf = (guess: number): string => `guess ${guess}`;
    for (let i = 0; i < 5; i++) expect((await come(given.id, given.secret, passwordOf(i))).status).toBe(401);
    // From then on a right one is throttled like a wrong one: its answer tells a guesser nothing.
    expect((await come(given.id, given.secret, passwordOf(6))).status).toBe(429);
    expect((await come(given.id, given.secret, 'nine tides')).status).toBe(429);
    await harness.db.execute('UPDATE failed_tries SET last_at = last_at - INTERVAL 1 SECOND');
    expect((await come(given.id, given.secret, 'nine tides')).status).toBe(204);
  });

  it('hears nothing of an album in the bin, and everything goes with it', async () => {
    const { id } = await proved([830]);
    const delivery = await newest(id);
    const given = await invited({}, delivery);
    const ebba = await listener(given);
    await ebba.ask('POST', '/notes', { path: FILE, seconds: 1, text: 'x' });
    await ebba.ask('POST', '/answers', { verdict: 'approved', words: '' });
    expect((await harness.call('DELETE', `/albums/${id}`)).status).toBe(204);
    expect((await ebba.ask('GET', '')).status).toBe(401);
    expect((await come(given.id, given.secret)).status).toBe(404);
    await harness.call('POST', `/albums/${id}/restore`);
    expect((await ebba.ask('GET', '')).status).toBe(200);
    await harness.call('DELETE', `/albums/${id}`);
    await emptyBin(harness.db, harness.media, Date.now() + 1000);
    for (const table of ['invitations', 'notes', 'answers'])
      expect(
        await harness.db.one(
          (row) => Number(row.n),
          `SELECT COUNT(*) AS n FROM ${table} WHERE delivery_id = ?`,
          [delivery],
        ),
        table,
      ).toBe(0);
  });
});

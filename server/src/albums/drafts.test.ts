import { newEdition, deliverableSchema, type Album } from '@oiseau/album/model';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { albumWithTones, startHarness, type Harness } from '../testing/harness.js';
import { askWith } from '../testing/raw-requests.js';

let harness: Harness;
let id: string;
let guest: string;
let version: number;

const files = (name: string, edition: string) =>
  deliverableSchema.parse({ name, kind: 'tracks', format: 'flac', bits: 24, edition });

beforeAll(async () => {
  harness = await startHarness();
  const made = await albumWithTones(harness, [611, 612]);
  id = made.id;
  const album: Album = {
    ...made.album,
    editions: [
      newEdition('CD'),
      {
        ...newEdition('Secret order'),
        draft: true,
        order: made.album.songs.map((song) => song.id).reverse(),
      },
    ],
    deliverables: [files('disc', 'CD'), files('idea', 'Secret order')],
  };
  version = (await harness.call<{ version: number }>('GET', `/albums/${id}`)).body.version;
  expect((await harness.call('PUT', `/albums/${id}`, { version, album })).status).toBe(200);
  const key = await harness.call<{ key: string }>('POST', '/keys', {
    ...{ name: 'Ada', role: 'guest', albums: [id] },
  });
  guest = key.body.key;
});
afterAll(() => harness.close());

const read = async (path: string, key: string): Promise<string> =>
  (await askWith(harness, key, 'GET', path)).text;

it('a guest sees no draft: not in the album, its changes or its revisions', async () => {
  await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['disc'] });
  for (const path of [
    `/albums/${id}`,
    `/albums/${id}/changes?after=${version}`,
    `/albums/${id}/revisions/1`,
    `/albums/${id}/revisions`,
    `/albums/${id}/deliveries`,
  ]) {
    const [seen, all] = [await read(path, guest), await read(path, harness.key)];
    expect(seen, path).not.toMatch(/Secret order|idea/);
    if (!/revisions$|deliveries$/.test(path)) expect(all, path).toMatch(/Secret order/);
    if (!/revisions$/.test(path)) expect(seen, path).toMatch(/disc/);
  }
});

it('a change of a draft reaches a guest as the album without it', async () => {
  const now = await harness.call<{ version: number }>('GET', `/albums/${id}`);
  const patch = [{ op: 'replace', path: '/editions/1/title', value: 'Secret order, again' }];
  const changed = await harness.call('PATCH', `/albums/${id}`, { version: now.body.version, patch });
  expect(changed.status).toBe(200);
  const seen = await read(`/albums/${id}/changes?after=${now.body.version}`, guest);
  expect(JSON.parse(seen)).toMatchObject({ version: now.body.version + 1, changes: null });
  expect(seen).not.toMatch(/Secret/);
});

it('nothing is rendered of a draft, by name or with all others', async () => {
  const byName = await harness.call<{ error: string }>('POST', `/albums/${id}/deliveries`, {
    deliverables: ['idea'],
  });
  expect([byName.status, byName.body.error]).toEqual([
    ...[409, '“idea” belongs to a draft edition, which can’t be rendered.'],
  ]);
});

it('a track twice in an order is refused, and nothing is changed', async () => {
  const { body } = await harness.call<{ version: number; album: Album }>('GET', `/albums/${id}`);
  const [song] = body.album.songs;
  const twice = { ...newEdition('Twice'), order: [song?.id ?? '', song?.id ?? ''] };
  const refused = await harness.call<{ error: string }>('PUT', `/albums/${id}`, {
    ...{ version: body.version, album: { ...body.album, editions: [...body.album.editions, twice] } },
  });
  expect(refused.status).toBe(400);
  expect(JSON.stringify(refused.body)).toMatch(/Edition “Twice” has a track twice/);
  expect((await harness.call<{ version: number }>('GET', `/albums/${id}`)).body.version).toBe(body.version);
});

it('papers are those of an edition, the first by default', async () => {
  const { body } = await harness.call<{ version: number; album: Album }>('GET', `/albums/${id}`);
  const editions = [
    newEdition('CD'),
    { ...newEdition('LP'), title: 'On vinyl', order: [body.album.songs[1]?.id ?? ''] },
  ];
  const saved = await harness.call('PUT', `/albums/${id}`, {
    ...{ version: body.version, album: { ...body.album, title: 'On disc', editions, deliverables: [] } },
  });
  expect(saved.status).toBe(200);
  const paper = async (query: string) => {
    const answer = await harness.fetch(`/api/albums/${id}/${query}`);
    return [answer.status, answer.headers.get('content-disposition')];
  };
  expect(await paper('label-copy.pdf')).toEqual([200, 'attachment; filename="On disc label copy.pdf"']);
  expect(await paper('label-copy.pdf?edition=LP')).toEqual([
    ...[200, 'attachment; filename="On vinyl label copy.pdf"'],
  ]);
  expect(await paper('pq-sheet.pdf?edition=LP')).toEqual([
    ...[200, 'attachment; filename="On vinyl PQ sheet.pdf"'],
  ]);
  expect((await paper('label-copy.pdf?edition=none'))[0]).toBe(404);
});

import type { AlbumRecord } from '@oiseau/api';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, startHarness, type Harness } from '../testing/harness.js';

let harness: Harness;
beforeAll(async () => {
  harness = await startHarness();
});
afterAll(() => harness.close());

const change = (id: string, version: number, patch: unknown) =>
  harness.call('PATCH', `/albums/${id}`, { version, patch });
const titled = (value: unknown) => [{ op: 'replace', path: '/title', value }];
const open = async (id: string) => (await harness.call<AlbumRecord>('GET', `/albums/${id}`)).body;
interface Changes {
  readonly version: number;
  readonly changes: readonly { readonly who: string; readonly patch: unknown }[] | null;
  readonly album: { readonly title: string } | null;
}
const changesAfter = async (id: string, version: number) =>
  (await harness.call<Changes>('GET', `/albums/${id}/changes?after=${version}`)).body;

describe('a change of an album', () => {
  it('is kept like a state saved whole, and leaves every other field', async () => {
    const { id, version, album } = await albumWithTones(harness, [700]);
    expect(
      await change(id, version, [...titled('Ebb'), { op: 'replace', path: '/songs/0/title', value: 'A' }]),
    ).toEqual({ status: 200, body: { version: version + 1 } });
    const now = await open(id);
    expect(now.version).toBe(version + 1);
    expect(now.album).toEqual({ ...album, title: 'Ebb', songs: [{ ...album.songs[0], title: 'A' }] });
  });

  it('of a version that is not the newest is refused, and nothing is lost', async () => {
    const { id, version } = await albumWithTones(harness, []);
    await change(id, version, titled('first'));
    expect(await change(id, version, titled('second'))).toMatchObject({
      status: 409,
      body: { version: version + 1 },
    });
    expect((await open(id)).album.title).toBe('first');
  });

  it('whose answer was lost may be sent again', async () => {
    const { id, version } = await albumWithTones(harness, []);
    for (let i = 0; i < 2; i++)
      expect(await change(id, version, titled('once'))).toEqual({
        status: 200,
        body: { version: version + 1 },
      });
  });

  it.each([
    ['a field that no album has', [{ op: 'add', path: '/titel', value: 'x' }], 400, /titel/],
    ['a value that the field does not take', titled(5), 400, /title/],
    [
      'a place that is not there',
      [{ op: 'replace', path: '/songs/7/title', value: 'x' }],
      409,
      /doesn’t apply/,
    ],
    ['a test that fails', [{ op: 'test', path: '/title', value: 'x' }], 409, /doesn’t apply/],
    ['the whole document', [{ op: 'replace', path: '', value: 7 }], 400, /./],
    ['a later form of the document', [{ op: 'replace', path: '/version', value: 99 }], 409, /later version/],
    ['an operation of another kind', [{ op: 'copy', from: '/songs', path: '/title' }], 400, /op/],
    [
      'the prototype of everything',
      [{ op: 'add', path: '/__proto__/x', value: 1 }],
      400,
      /field of an album/,
    ],
    [
      'a cover that was never brought in',
      [{ op: 'replace', path: '/artwork', value: 'a'.repeat(64) }],
      404,
      /picture/,
    ],
  ])('to %s is refused with its reason, and nothing is kept of it', async (_what, patch, status, reason) => {
    const { id, version, album } = await albumWithTones(harness, []);
    const answer = await change(id, version, patch);
    expect(answer.status).toBe(status);
    expect(String(answer.body.error)).toMatch(reason);
    expect(await open(id)).toMatchObject({ version, album: { title: album.title } });
    expect((await changesAfter(id, version)).changes).toEqual([]);
  });

  it('of what an earlier version has kept is one of its newest form', async () => {
    const { id, version } = await albumWithTones(harness, [701]);
    const raw = await harness.call<Record<string, unknown>>('GET', `/albums/${id}/raw`);
    // Version 4 had everything that this album says.
    await harness.db.execute('UPDATE albums SET document = ? WHERE id = ?', [
      JSON.stringify({ ...raw.body, version: 4 }),
      id,
    ]);
    expect((await change(id, version, titled('New'))).status).toBe(200);
    const after = await harness.call<Record<string, unknown>>('GET', `/albums/${id}/raw`);
    expect(after.body).toEqual({ ...raw.body, title: 'New' });
  });
});

describe('what has changed since a version', () => {
  it('is told in order, with who has done it', async () => {
    const { id, version } = await albumWithTones(harness, []);
    await harness.call('PUT', '/keys/first', { name: 'Hanna' });
    await change(id, version, titled('one'));
    await change(id, version + 1, titled('two'));
    expect(await changesAfter(id, version)).toEqual({
      version: version + 2,
      changes: [
        { who: 'Hanna', patch: titled('one') },
        { who: 'Hanna', patch: titled('two') },
      ],
      album: null,
    });
    expect(await changesAfter(id, version + 2)).toEqual({ version: version + 2, changes: [], album: null });
  });

  it('is the whole album where a state was saved whole, or is not kept any more', async () => {
    const { id, version, album } = await albumWithTones(harness, []);
    await change(id, version, titled('one'));
    await harness.call('PUT', `/albums/${id}`, { version: version + 1, album: { ...album, title: 'whole' } });
    expect(await changesAfter(id, version)).toMatchObject({
      ...{ version: version + 2, changes: null },
      album: { title: 'whole' },
    });
    expect(await changesAfter(id, 99)).toMatchObject({ changes: null, album: { title: 'whole' } });
  });
});

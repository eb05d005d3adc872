import type { AlbumRecord, Revision } from '@oiseau/api';
import type { Album } from '@oiseau/album/model';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, deliveriesOf, startHarness, toneFile, type Harness } from '../testing/harness.js';

let harness: Harness;
beforeAll(async () => {
  harness = await startHarness();
});
afterAll(() => harness.close());

interface Entry {
  id: string;
  title: string;
  tracks: number;
  frames: number;
}
const shelf = async (): Promise<Entry[]> =>
  (await harness.call<{ albums: Entry[] }>('GET', '/albums')).body.albums;

describe('albums over the API', () => {
  it('are made, listed with their length, and kept as edited', async () => {
    expect((await harness.call('GET', '/status')).body).toEqual({ untouched: true });
    const { id } = await albumWithTones(harness, [400, 500]);
    expect((await harness.call('GET', '/status')).body).toEqual({ untouched: false });
    // 2 + 5 + 2 + 5 s = 14 s = 1050 frames
    expect((await shelf()).find((entry) => entry.id === id)).toMatchObject({
      title: 'Nine Tides',
      tracks: 2,
      frames: 1050,
    });
  });

  it('refuse an edit of a version that is not the newest, and lose nothing', async () => {
    const { id, version, album } = await albumWithTones(harness, [600]);
    const mine = await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, title: 'mine' } });
    expect(mine).toEqual({ status: 200, body: { version: version + 1 } });
    const theirs = await harness.call('PUT', `/albums/${id}`, {
      version,
      album: { ...album, title: 'theirs' },
    });
    expect(theirs).toMatchObject({
      status: 409,
      body: { version: version + 1, error: 'The album has changed in another window.' },
    });
    expect((await harness.call<{ album: Album }>('GET', `/albums/${id}`)).body.album.title).toBe('mine');
  });

  it('let exactly one of many simultaneous edits through', async () => {
    const { id, version, album } = await albumWithTones(harness, []);
    const answers = await Promise.all(
      Array.from({ length: 8 }, (_, i) =>
        harness.call('PUT', `/albums/${id}`, { version, album: { ...album, title: `edit ${i}` } }),
      ),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409, 409, 409, 409, 409, 409, 409]);
  });

  it('name what is wrong with a body', async () => {
    const { id, version, album } = await albumWithTones(harness, []);
    const unknown = await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, titel: 'x' } });
    expect(unknown).toMatchObject({ status: 400, body: { error: 'album.titel: unknown key.' } });
    const [song] = (await albumWithTones(harness, [440])).album.songs;
    const stranger = {
      ...album,
      songs: [{ ...song, region: { ...song?.region, master: 'f'.repeat(64) } }],
    };
    expect(await harness.call('PUT', `/albums/${id}`, { version, album: stranger })).toMatchObject({
      status: 422,
    });
    const broken = await harness.fetch(`/api/albums`, {
      method: 'POST',
      body: '{',
      headers: { 'Content-Type': 'application/json' },
    });
    expect([broken.status, await broken.json()]).toEqual([
      400,
      {
        error: 'The request could not be read.',
        code: 'unreadable',
        words: { text: 'The request could not be read.' },
      },
    ]);
  });

  it('keep text from people as text, whatever it looks like', async () => {
    const { id, version, album } = await albumWithTones(harness, []);
    const title = `Robert'); DROP TABLE albums; -- <script>alert("x")</script> \\ 🐦 \u{1F1E9}`;
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, title } });
    expect((await harness.call<{ album: Album }>('GET', `/albums/${id}`)).body.album.title).toBe(title);
  });

  it('are duplicated with their masters', async () => {
    const { id, album } = await albumWithTones(harness, [700]);
    const copy = (await harness.call<{ id: string }>('POST', `/albums/${id}/duplicate`)).body;
    const { body } = await harness.call<{ album: Album }>('GET', `/albums/${copy.id}`);
    expect(body.album).toEqual({ ...album, title: 'Nine Tides (copy)' });
    expect((await harness.call<unknown[]>('GET', `/albums/${copy.id}/masters`)).body).toHaveLength(1);
  });

  it('whose answer was lost are no conflict with themselves; another edit is', async () => {
    const { id, version, album } = await albumWithTones(harness, []);
    const edit = { version, album: { ...album, title: 'Ebb' } };
    expect((await harness.call('PUT', `/albums/${id}`, edit)).body).toEqual({ version: version + 1 });
    expect(await harness.call('PUT', `/albums/${id}`, edit)).toEqual({
      status: 200,
      body: { version: version + 1 },
    });
    const other = { version, album: { ...album, title: 'Flow' } };
    expect((await harness.call('PUT', `/albums/${id}`, other)).status).toBe(409);
  });

  it('are deleted, and brought back', async () => {
    const { id } = await albumWithTones(harness, []);
    expect((await harness.call('DELETE', `/albums/${id}`)).status).toBe(204);
    expect((await harness.call('GET', `/albums/${id}`)).status).toBe(404);
    expect((await shelf()).some((entry) => entry.id === id)).toBe(false);
    expect((await harness.call('DELETE', `/albums/${id}`)).status).toBe(404);
    expect((await harness.call('POST', `/albums/${id}/restore`)).status).toBe(204);
    expect((await shelf()).some((entry) => entry.id === id)).toBe(true);
  });

  it('an unknown address is a sentence, not a page', async () => {
    expect(await harness.call('GET', '/nothing')).toEqual({
      status: 404,
      body: {
        error: 'This address doesn’t exist.',
        code: 'refused',
        words: { text: 'This address doesn’t exist.' },
      },
    });
    expect(await harness.call('GET', `/albums/..%2F..%2Fetc`)).toEqual({
      status: 404,
      body: {
        error: 'This album doesn’t exist.',
        code: 'refused',
        words: { text: 'This album doesn’t exist.' },
      },
    });
  });
});

describe('an album that an earlier version kept', () => {
  const noFade = { length: 0, shape: 'linear' };
  const words = { songwriter: '', composer: '', arranger: '', message: '' };
  /** A song in a document without a version: numbered ones in a list, the hidden one apart. */
  const track = (id: string, master: string, gapBefore: number) => ({
    ...{ id, master, in: 0, out: null, gapBefore, gainDb: 0, fadeIn: noFade, fadeOut: noFade, indexes: [] },
    ...{ title: `Song ${id}`, performer: '', ...words, isrc: '', copyPermitted: false, preEmphasis: false },
  });

  it('is opened, edited and rendered, and so is its revision', async () => {
    const { id, album } = await albumWithTones(harness, [700, 701]);
    await harness.work();
    const [hush = '', loud = ''] = album.songs.map(({ region }) => region.master);
    const second = 705_600_000;
    const old = (title: string) =>
      JSON.stringify({
        ...{ title, performer: 'Marram Lamps', ...words, genre: '', label: '', catalogNumber: '', upc: '' },
        ...{ releaseDate: '', copyright: '', phonogram: '', language: 'en', discNumber: 1, discTotal: 1 },
        ...{ artwork: null, markLead: 0, endPause: 0 },
        hidden: track('hush', hush, 2 * second),
        tracks: [track('t1', loud, 2 * second)],
        deliverables: [{ name: 'plant', kind: 'ddp' }],
      });
    await harness.db.execute('UPDATE albums SET document = ? WHERE id = ?', [old('Loudness'), id]);
    await harness.db.execute(
      'INSERT INTO revisions (album_id, number, document, created_at) VALUES (?, 1, ?, UTC_TIMESTAMP(3))',
      [id, old('As it was')],
    );

    const opened = (await harness.call<AlbumRecord>('GET', `/albums/${id}`)).body;
    expect(opened.album.songs.map((song) => [song.id, song.numbered, song.region.master])).toEqual([
      ['hush', false, hush],
      ['t1', true, loud],
    ]);
    const edited = { ...opened.album, title: 'As it will be' };
    expect(
      (await harness.call('PUT', `/albums/${id}`, { version: opened.version, album: edited })).status,
    ).toBe(200);
    await harness.call('POST', `/albums/${id}/deliveries`, {});
    await harness.call('POST', `/albums/${id}/deliveries`, { revision: 1 });
    await harness.work();
    const deliveries = await deliveriesOf(harness, id);
    expect(deliveries.map(({ revision, proof }) => [revision, proof?.proved])).toEqual([
      [2, true],
      [1, true],
    ]);
    const titles = [];
    for (const number of [1, 2])
      titles.push(
        (await harness.call<Revision>('GET', `/albums/${id}/revisions/${number}`)).body.album.title,
      );
    expect(titles).toEqual(['As it was', 'As it will be']);
  });
});

describe('the contract', () => {
  it('is served as OpenAPI', async () => {
    const { status, body } = await harness.call<{ paths: object }>('GET', '/openapi.json');
    expect(status).toBe(200);
    expect(Object.keys(body.paths)).toContain('/api/albums/{id}/deliveries');
  });
});

describe('album files', () => {
  it('leave and come back as the same album', async () => {
    const { id, album } = await albumWithTones(harness, [800, 900], { upc: '2012345678903' });
    const text = await (await harness.fetch(`/api/albums/${id}/file`)).text();
    expect(JSON.parse(text)).toMatchObject({
      format: 'oiseau-album',
      version: 1,
      tracks: [{ master: '800.wav', gapBefore: 2 }, { master: '900.wav' }],
    });
    const imported = await harness.call<{ id: string }>('POST', '/album-files', { file: text });
    expect(imported.status).toBe(201);
    const { body } = await harness.call<{ album: Album }>('GET', `/albums/${imported.body.id}`);
    const withoutIds = (of: Album): unknown => ({
      ...of,
      songs: of.songs.map((song) => ({ ...song, id: '' })),
    });
    expect(withoutIds(body.album)).toEqual(withoutIds(album));
  });

  it('say which masters are missing, and leave no album behind', async () => {
    const before = (await shelf()).length;
    const file = JSON.stringify({
      format: 'oiseau-album',
      version: 1,
      tracks: [{ master: 'lost.wav' }, { master: '800.wav' }],
    });
    expect(await harness.call('POST', '/album-files', { file })).toMatchObject({
      status: 422,
      body: { error: 'Masters are missing: lost.wav.', missing: ['lost.wav'] },
    });
    expect(await harness.call('POST', '/album-files/masters', { file })).toMatchObject({
      body: [
        { name: 'lost.wav', here: false },
        { name: '800.wav', here: true },
      ],
    });
    expect(await shelf()).toHaveLength(before);
  });

  it('take masters that came ahead of them, under the name in the file', async () => {
    const { body: sent } = await harness.send<{ sha256: string }>(
      '/masters?name=from%20a%20folder.wav',
      toneFile(850, 5),
    );
    const file = JSON.stringify({
      format: 'oiseau-album',
      version: 1,
      tracks: [{ master: 'masters/new.wav' }],
    });
    const order = (sha256: string) =>
      harness.call<{ id: string }>('POST', '/album-files', { file, masters: { 'masters/new.wav': sha256 } });
    const { status, body } = await order(sent.sha256);
    expect(status).toBe(201);
    expect((await harness.call('GET', `/albums/${body.id}/masters`)).body).toMatchObject([
      { sha256: sent.sha256, name: 'new.wav' },
    ]);
    expect(await order('0'.repeat(64))).toMatchObject({ status: 422 });
  });

  it('name the fault of a file', async () => {
    const file = JSON.stringify({ format: 'oiseau-album', version: 1, tracks: [], colour: 'red' });
    expect(await harness.call('POST', '/album-files', { file })).toMatchObject({
      status: 422,
      body: { problems: ['colour: unknown key.'] },
    });
  });

  it('travel with their masters as a ZIP', async () => {
    const { id } = await albumWithTones(harness, [1000]);
    const bytes = Buffer.from(await (await harness.fetch(`/api/albums/${id}/bundle`)).arrayBuffer());
    expect(bytes.subarray(0, 2).toString()).toBe('PK');
    for (const name of ['album.json', '1000.wav']) expect(bytes.includes(name)).toBe(true);
  });
});

describe('the Shelf', () => {
  it('is in the order that is asked for, and tells what is being rendered', async () => {
    for (const [title, performer] of [
      ['öre 9', 'Zinnia'],
      ['Ore 8', 'ada'],
      ['ORE 7', 'Marram'],
    ]) {
      const { id } = (await harness.call<{ id: string }>('POST', '/albums', { title })).body;
      const { version, album } = (await harness.call<AlbumRecord>('GET', `/albums/${id}`)).body;
      await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, performer } });
    }
    const by = async (order: string) =>
      (await harness.call<{ albums: Entry[] }>('GET', `/albums?q=ore&order=${order}`)).body.albums.map(
        ({ title }) => title,
      );
    expect(await by('title')).toEqual(['ORE 7', 'Ore 8', 'öre 9']);
    expect(await by('performer')).toEqual(['Ore 8', 'ORE 7', 'öre 9']);
    expect((await by('edited'))[0]).toBe('ORE 7');
    expect((await harness.call('GET', '/albums?order=id;DROP')).status).toBe(400);
    const { id } = await albumWithTones(harness, [621]);
    await harness.call('POST', `/albums/${id}/deliveries`, {});
    const rendering = async () =>
      (await harness.call<{ albums: (Entry & { rendering: number })[] }>('GET', '/albums')).body.albums.find(
        (entry) => entry.id === id,
      )?.rendering;
    expect(await rendering()).toBeGreaterThan(0);
    await harness.work();
    expect(await rendering()).toBe(0);
  });
});

describe('the register of ISRCs', () => {
  it('lists every code with album and track, of the albums that a key opens alone', async () => {
    const isrcs = ['ZZ-OIS-31-00002', '', 'zzois3100001'];
    const { id, version, album } = await albumWithTones(harness, [611, 612, 613]);
    const songs = album.songs.map((song, i) => ({ ...song, isrc: isrcs[i] ?? '' }));
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, songs } });
    const register = (await harness.call<{ isrc: string }[]>('GET', '/isrcs')).body;
    expect(register.filter(({ isrc }) => isrc.startsWith('ZZOIS31'))).toMatchObject([
      { isrc: 'ZZOIS3100001', albumId: id, album: 'Nine Tides', track: 3, title: 'Tone 613' },
      { isrc: 'ZZOIS3100002', albumId: id, album: 'Nine Tides', track: 1, title: 'Tone 611' },
    ]);
    const other = (await harness.call<{ id: string }>('POST', '/albums', { title: 'Other' })).body.id;
    const { key } = (
      await harness.call<{ key: string }>('POST', '/keys', {
        name: 'Ada',
        role: 'assistant',
        albums: [other],
      })
    ).body;
    const seen = await harness.fetch('/api/isrcs', { headers: { Authorization: `Bearer ${key}` } });
    expect(await seen.json()).toEqual([]);
  });
});

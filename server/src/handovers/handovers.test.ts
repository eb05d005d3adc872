import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { HandoverRecord, ReceiverRecord } from '@oiseau/api';
import { deliverableSchema, type Album } from '@oiseau/album/model';
import { startStandins, type Misbehaviour, type Standin } from '@oiseau/standins';
import sharp from 'sharp';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { albumWithTones, deliveriesOf, startHarness, type Harness } from '../testing/harness.js';
import { noteStandIns } from './stand-ins.js';

/* Handing over to the stand-ins over the wire: each reads what it gets by itself. */

let harness: Harness;
let folder: string;
let standins: Awaited<ReturnType<typeof startStandins>>;
beforeAll(async () => {
  harness = await startHarness();
  folder = await mkdtemp(join(tmpdir(), 'oiseau-standins-'));
  standins = await startStandins(folder, 2);
  await noteStandIns(harness.db, join(folder, 'receivers.json'));
});
afterAll(async () => {
  await standins.close();
  await harness.close();
  await rm(folder, { recursive: true, force: true });
});

const standin = (kind: Standin['kind']): Standin => {
  const found = standins.standins.find((each) => each.kind === kind);
  if (!found) throw new Error(`There is no ${kind}.`);
  return found;
};
const tell = async (kind: Standin['kind'], path: string, body: object): Promise<void> => {
  const { url, token } = standin(kind);
  const headers = { Authorization: `Bearer ${token}`, 'Content-Type': 'application/json' };
  const { status } = await fetch(`${url}${path}`, { method: 'PUT', headers, body: JSON.stringify(body) });
  expect(status).toBe(200);
};
const behave = (kind: Standin['kind'], mode: Misbehaviour): Promise<void> =>
  tell(kind, '/behaviour', { mode });
beforeEach(async () => {
  for (const { kind } of standins.standins) await behave(kind, 'none');
  await tell('drive', '/medium', { kind: '80' });
});

const receiver = async (kind: Standin['kind']): Promise<ReceiverRecord> => {
  const { body } = await harness.call<ReceiverRecord[]>('GET', '/receivers');
  const found = body.find((each) => each.kind === kind && each.standIn);
  if (!found) throw new Error(`There is no ${kind}.`);
  return found;
};

const CODES: Partial<Album> = {
  ...{ upc: '2012345678903', performer: 'Marram Lamps', label: 'Low Light', releaseDate: '2026-11-09' },
  ...{ copyright: '2026 Low Light', phonogram: '2026 Low Light' },
};

/** An album of two tones, rendered and proved. @returns the album's id and the delivery's */
async function rendered(settings: object, change: (album: Album) => Partial<Album> = () => ({})) {
  const { id, version, album } = await albumWithTones(harness, [440, 550]);
  const songs = album.songs.map((song, i) => ({ ...song, isrc: `ZZOIS260000${i + 1}` }));
  const deliverables = [deliverableSchema.parse({ name: 'out', ...settings })];
  const whole = { ...album, ...CODES, songs, deliverables };
  const saved = await harness.call('PUT', `/albums/${id}`, {
    version,
    album: { ...whole, ...change(whole) },
  });
  expect(saved.status).toBe(200);
  expect(await harness.call('POST', `/albums/${id}/deliveries`, { by: 'Ada' })).toMatchObject({
    status: 202,
  });
  await harness.work();
  const [delivery] = await deliveriesOf(harness, id);
  expect(delivery).toMatchObject({ proof: { proved: true } });
  return { album: id, delivery: delivery?.id ?? '' };
}

const listed = async (album: string): Promise<HandoverRecord[]> =>
  (await harness.call<HandoverRecord[]>('GET', `/albums/${album}/handovers`)).body;
const newest = async (album: string): Promise<HandoverRecord> => {
  const [found] = await listed(album);
  if (!found) throw new Error('Nothing was handed over.');
  return found;
};

async function hand(delivery: string, kind: Standin['kind'], writing?: object): Promise<string> {
  const body = { receiver: (await receiver(kind)).id, by: 'Ada', ...(writing ? { writing } : {}) };
  const answer = await harness.call<{ id: string }>('POST', `/deliveries/${delivery}/handovers`, body);
  expect(answer).toMatchObject({ status: 201 });
  return answer.body.id;
}

describe('a plant', () => {
  it('sends its own table of marks, and later tells how far it is', async () => {
    const { album, delivery } = await rendered({ kind: 'ddp' });
    await hand(delivery, 'plant');
    await harness.work();
    const first = await newest(album);
    expect(first).toMatchObject({ state: 'done', revision: 1, deliverable: 'out', askedBy: 'Ada' });
    // 2 s of pause, 5 s of sound, 2 s, 5 s.
    expect(first.told?.receipt).toMatchObject({
      discs: [
        {
          ...{ folder: '', upc: '2012345678903', leadOut: '00:14:00', title: 'Nine Tides' },
          marks: [
            { track: 1, index: 0, at: '00:00:00', isrc: '' },
            { track: 1, index: 1, at: '00:02:00', isrc: 'ZZOIS2600001', title: 'Tone 440' },
            { track: 2, index: 0, at: '00:07:00' },
            { track: 2, index: 1, at: '00:09:00', isrc: 'ZZOIS2600002', title: 'Tone 550' },
          ],
        },
      ],
    });
    // News is fetched whether anybody looks or not, and looking fetches none.
    const jobs = (): Promise<number> =>
      harness.db.one((row) => Number(row.count), 'SELECT COUNT(*) AS count FROM jobs');
    await harness.db.execute('UPDATE handovers SET looked_at = NULL');
    const before = await jobs();
    await listed(album);
    expect(await jobs()).toBe(before);
    await expect
      .poll(
        async () => {
          await harness.db.execute('UPDATE handovers SET looked_at = NULL');
          await harness.work();
          return (await newest(album)).told?.state;
        },
        { timeout: 10_000 },
      )
      .toBe('shipped');
    expect((await newest(album)).sums).toMatch(/^[0-9a-f]{64}$/);
  });

  it('gets the PQ sheets of each disc beside its image', async () => {
    const { delivery } = await rendered({ kind: 'ddp' }, ({ songs }) => ({
      parts: songs.map(({ id: first }) => ({
        ...{ medium: 'cd' as const, first, title: '', upc: '', limit: null },
      })),
    }));
    const id = await hand(delivery, 'plant');
    await harness.work();
    const paths = standins.intakes.plant.shipments.withReference(id)?.files.map(({ path }) => path);
    expect(paths).toEqual(
      expect.arrayContaining(['disc-1/pq-sheet.pdf', 'disc-2/pq-sheet.txt', 'SHA256SUMS', 'proof.json']),
    );
    expect(standins.intakes.plant.shipments.withReference(id)).toMatchObject({
      state: expect.stringMatching(/checked|in-production|shipped/) as string,
    });
  });

  it('that refuses says why, in its own words', async () => {
    await behave('plant', 'refuses');
    const { album, delivery } = await rendered({ kind: 'ddp' });
    await hand(delivery, 'plant');
    await harness.work();
    expect(await newest(album)).toMatchObject({
      state: 'done',
      told: { state: 'refused', final: true, reasons: [{ code: 'glass-master', track: 1 }] },
    });
  });
});

/** A plant goes on by itself. */
const TAKEN = { state: expect.stringMatching(/checked|in-production|shipped/) as string };

describe('a line', () => {
  it('that drops again and again is gone on with where it broke, and nothing is sent twice', async () => {
    await behave('plant', 'drops-line');
    const { album, delivery } = await rendered({ kind: 'ddp' });
    const id = await hand(delivery, 'plant');
    const working = harness.work();
    await expect
      .poll(async () => (await newest(album)).trouble, { timeout: 20_000 })
      .toMatch(/connection failed/);
    await behave('plant', 'none');
    await working;
    expect(await newest(album)).toMatchObject({ state: 'done', trouble: null, told: TAKEN });
    const { shipments } = standins.intakes.plant;
    expect(shipments.all().filter(({ reference }) => reference === id).length).toBe(1);
  });

  it('is tried again while the receiver has no room', async () => {
    await behave('plant', 'full');
    const { album, delivery } = await rendered({ kind: 'ddp' });
    await hand(delivery, 'plant');
    const working = harness.work();
    await expect
      .poll(async () => (await newest(album)).trouble, { timeout: 20_000 })
      .toBe('The recipient’s storage is full.');
    await behave('plant', 'none');
    await working;
    expect(await newest(album)).toMatchObject({ state: 'done', told: TAKEN });
  });

  it('is not tried again where the token is refused, until somebody says so', async () => {
    await behave('plant', 'refuses-token');
    const { album, delivery } = await rendered({ kind: 'ddp' });
    const id = await hand(delivery, 'plant');
    await harness.work();
    expect(await newest(album)).toMatchObject({
      state: 'failed',
      message: expect.stringMatching(/token/) as string,
    });
    await behave('plant', 'none');
    expect((await harness.call('POST', `/handovers/${id}/resume`)).status).toBe(202);
    await harness.work();
    expect(await newest(album)).toMatchObject({ state: 'done', told: TAKEN });
  });

  it('that is slow can be paused and gone on with, and stopped for good', async () => {
    await behave('plant', 'slow');
    const { album, delivery } = await rendered({ kind: 'ddp' });
    const id = await hand(delivery, 'plant');
    const working = harness.work();
    await expect
      .poll(async () => (await newest(album)).progress?.share ?? 0, { timeout: 20_000 })
      .toBeGreaterThan(0.2);
    expect((await harness.call('POST', `/handovers/${id}/pause`)).status).toBe(202);
    await working;
    expect(await newest(album)).toMatchObject({ state: 'stopped', paused: true });
    const { shipments } = standins.intakes.plant;
    const there = shipments.withReference(id);
    if (!there) throw new Error('A paused shipment stays.');
    expect(await shipments.received(there, 0)).toBeGreaterThan(0);
    await harness.call('POST', `/handovers/${id}/resume`);
    const again = harness.work();
    await expect
      .poll(async () => (await newest(album)).progress?.share ?? 0, { timeout: 20_000 })
      .toBeGreaterThan(0.3);
    await harness.call('POST', `/handovers/${id}/stop`);
    await again;
    expect(await newest(album)).toMatchObject({ state: 'stopped', paused: false });
    expect(shipments.withReference(id)).toBeUndefined();
  });
});

describe('a drive', () => {
  it('writes an image, whose disc is read back and laid against it, copy by copy', async () => {
    const { album, delivery } = await rendered({ kind: 'ddp' });
    await hand(delivery, 'drive', { speed: 48, test: true, copies: 2 });
    const working = harness.work();
    await expect
      .poll(async () => (await newest(album)).told?.reasons[0]?.message, { timeout: 20_000 })
      .toBe('The loaded disc isn’t blank.');
    expect((await newest(album)).told?.copies).toMatchObject([{ copy: 1, isSame: true }]);
    const { id } = await receiver('drive');
    expect((await harness.call('PUT', `/receivers/${id}/medium`, { kind: '74' })).status).toBe(204);
    await working;
    const { told } = await newest(album);
    expect(told).toMatchObject({ state: 'done', receipt: { copies: 2, length: '00:14:00', speed: 48 } });
    // 14 s are 1050 sectors.
    const same = {
      sectors: 1050,
      audioDiffers: 0,
      subcodeDiffers: 0,
      codes: [],
      textIsSame: true,
      isSame: true,
    };
    expect(told?.copies).toMatchObject([
      { copy: 1, ...same },
      { copy: 2, ...same },
    ]);
  });

  it('writes an image with a cue sheet as well', async () => {
    for (const audio of ['wav', 'bin']) {
      await tell('drive', '/medium', { kind: '80' });
      const { album, delivery } = await rendered({ kind: 'cue', audio });
      await hand(delivery, 'drive', { speed: 48 });
      await harness.work();
      expect((await newest(album)).told).toMatchObject({
        state: 'done',
        copies: [{ sectors: 1050, isSame: true }],
      });
    }
  });

  it.each([
    ['runs-dry', /Buffer underrun at/, 'ruined'],
    ['bad-medium', /failed at the outer edge/, 'ruined'],
    ['wrong-medium', /isn’t an audio disc/, 'blank'],
  ] as const)('that %s says so', async (mode, words, medium) => {
    await behave('drive', mode);
    const { album, delivery } = await rendered({ kind: 'ddp' });
    await hand(delivery, 'drive', { speed: 4 });
    await harness.work();
    expect((await newest(album)).told).toMatchObject({
      state: 'failed',
      reasons: [{ message: expect.stringMatching(words) as string }],
    });
    const { body } = await harness.call('GET', `/receivers/${(await receiver('drive')).id}/about`);
    expect(body).toMatchObject({ about: { medium: { state: medium } } });
  });

  it('that reads with errors has written nothing that can be trusted', async () => {
    await behave('drive', 'reading-errors');
    const { album, delivery } = await rendered({ kind: 'ddp' });
    await hand(delivery, 'drive', { speed: 48 });
    await harness.work();
    expect(await newest(album)).toMatchObject({
      state: 'failed',
      message: expect.stringContaining('Copy 1 failed verification') as string,
      // One sector of each thousand: 777 of 1050.
      told: { copies: [{ audioDiffers: 1, firstDifference: 777, subcodeDiffers: 0, isSame: false }] },
    });
  });

  it('waits for a blank that is long enough, and a stop ends it', async () => {
    await tell('drive', '/medium', { kind: 'none' });
    const { album, delivery } = await rendered({ kind: 'ddp' });
    const id = await hand(delivery, 'drive');
    const working = harness.work();
    await expect
      .poll(async () => (await newest(album)).told?.state, { timeout: 20_000 })
      .toBe('wants-medium');
    await harness.call('POST', `/handovers/${id}/stop`);
    await working;
    expect(await newest(album)).toMatchObject({ state: 'stopped' });
    await expect.poll(() => standins.intakes.drive.shipments.withReference(id)?.state).toBe('cancelled');
  });
});

describe('a shop', () => {
  const shopAlbum = async () => {
    const { id, version, album } = await albumWithTones(harness, [330]);
    const picture = await sharp({ create: { width: 3000, height: 3000, channels: 3, background: '#205a78' } })
      .png()
      .toBuffer();
    const { body } = await harness.send<{ sha256: string }>(
      '/pictures?name=cover.png',
      new Uint8Array(picture),
    );
    const songs = album.songs.map((song) => ({ ...song, isrc: 'ZZOIS2600009' }));
    const deliverables = [deliverableSchema.parse({ name: 'shop', kind: 'package', bits: 16 })];
    const upc = '2026110900014';
    const whole = { ...album, ...CODES, upc, songs, deliverables, artwork: body.sha256 };
    const saved = await harness.call<{ version: number }>('PUT', `/albums/${id}`, { version, album: whole });
    expect(saved).toMatchObject({ status: 200 });
    return { id, version: saved.body.version, album: whole };
  };
  const renderAgain = async (id: string): Promise<string> => {
    expect(await harness.call('POST', `/albums/${id}/deliveries`, { by: 'Ada' })).toMatchObject({
      status: 202,
    });
    await harness.work();
    return (await deliveriesOf(harness, id))[0]?.id ?? '';
  };

  it('puts a release live, and replaces it by a newer revision only', async () => {
    const { id, version, album } = await shopAlbum();
    const first = await renderAgain(id);
    await hand(first, 'shop');
    await harness.work();
    expect((await newest(id)).told).toMatchObject({
      state: 'live',
      receipt: { revision: 1, replaces: null },
    });
    await hand(first, 'shop');
    await harness.work();
    expect((await newest(id)).told).toMatchObject({
      state: 'refused',
      reasons: [
        {
          field: 'revision',
          message: expect.stringContaining('Revision 1 of this release is live') as string,
        },
      ],
    });
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, genre: 'Chamber' } });
    await hand(await renderAgain(id), 'shop');
    await harness.work();
    expect((await newest(id)).told).toMatchObject({ state: 'live', receipt: { revision: 2, replaces: 1 } });
  });

  it('would refuse an album without its codes, which is said before anything is rendered', async () => {
    const { id, version, album } = await shopAlbum();
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, upc: '' } });
    expect(await harness.call('POST', `/albums/${id}/deliveries`, { by: 'Ada' })).toMatchObject({
      status: 422,
      body: { error: expect.stringContaining('no valid UPC/EAN') as string },
    });
  });
});

describe('a streaming service', () => {
  it('tells how loud it will play each file', async () => {
    const { album, delivery } = await rendered({ kind: 'tracks', format: 'flac' });
    await hand(delivery, 'service');
    await harness.work();
    const { told } = await newest(album);
    // A tone of 0.4 on both sides: −7.96 dB and some tenths of K-weighting; at −14 LUFS it is turned down.
    const { tracks } = told?.receipt as { tracks: { title: string; lufs: number; playsAtLufs: number }[] };
    expect(tracks.map(({ title, playsAtLufs }) => [title, playsAtLufs])).toEqual([
      ['Tone 440', -14],
      ['Tone 550', -14],
    ]);
    for (const { lufs } of tracks) expect(lufs).toBeGreaterThan(-10);
  });

  it('that refuses the words leads to the track', async () => {
    await behave('service', 'refuses');
    const { album, delivery } = await rendered({ kind: 'tracks', format: 'flac' });
    await hand(delivery, 'service');
    await harness.work();
    expect((await newest(album)).told).toMatchObject({
      state: 'refused',
      reasons: [{ track: 1, field: 'tracks.0.title' }],
    });
  });
});

describe('handing over', () => {
  it('is for what is proved, and of a kind that the receiver takes', async () => {
    const { album, delivery } = await rendered({ kind: 'cue' });
    const order = async (kind: Standin['kind'], more: object = {}) =>
      harness.call('POST', `/deliveries/${delivery}/handovers`, {
        receiver: (await receiver(kind)).id,
        ...more,
      });
    expect(await order('plant')).toMatchObject({ status: 422 });
    expect(await order('drive', { writing: { part: 'disc-7' } })).toMatchObject({ status: 422 });
    await harness.db.execute(
      "UPDATE deliveries SET proof = JSON_SET(proof, '$.proved', FALSE) WHERE id = ?",
      [delivery],
    );
    expect(await order('drive')).toMatchObject({ status: 409 });
    await harness.call('POST', `/deliveries/${delivery}/clear`);
    expect(await order('drive')).toMatchObject({ status: 410 });
    expect(await listed(album)).toEqual([]);
  });

  it('tells no token to anybody, and is no matter of guests', async () => {
    const added = await harness.call<ReceiverRecord>('POST', '/receivers', {
      ...{ kind: 'shop', name: 'Elsewhere', url: 'http://127.0.0.1:9', token: 'most-secret-word' },
    });
    expect(added.status).toBe(201);
    const { id } = added.body;
    const bodies = [added.body, (await harness.call('GET', '/receivers')).body];
    bodies.push((await harness.call('GET', `/receivers/${id}/about`)).body as never);
    expect(JSON.stringify(bodies)).not.toContain('most-secret-word');
    expect(JSON.stringify(bodies)).toContain('can’t be reached');
    expect(
      (
        await harness.call('POST', '/receivers', {
          kind: 'shop',
          name: 'x',
          url: 'file:///etc/passwd',
          token: 't',
        })
      ).status,
    ).toBe(400);
    const key = await harness.call<{ key: string }>('POST', '/keys', {
      name: 'Guest',
      role: 'guest',
      albums: null,
    });
    const { delivery } = await rendered({ kind: 'ddp' });
    for (const [method, path] of [
      ['GET', '/receivers'],
      ['POST', '/receivers'],
      ['POST', `/deliveries/${delivery}/handovers`],
      ['PUT', `/receivers/${id}`],
      ['DELETE', `/receivers/${id}`],
    ] as const) {
      const { status } = await fetch(`${harness.url}/api${path}`, {
        ...{
          method,
          headers: { Authorization: `Bearer ${key.body.key}`, 'Content-Type': 'application/json' },
        },
        ...(method === 'GET' ? {} : { body: '{}' }),
      });
      expect([path, status]).toEqual([path, 403]);
    }
    expect((await harness.call('DELETE', `/receivers/${id}`)).status).toBe(204);
    expect((await harness.call('GET', `/receivers/${id}/about`)).status).toBe(404);
    const [token] = await harness.db.many(
      (row) => String(row.token),
      'SELECT token FROM receivers WHERE id = ?',
      [id],
    );
    expect(token).toBe('');
  });
});

import sharp from 'sharp';
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { request } from 'node:http';
import type { Revision } from '@oiseau/api';
import { deliverableSchema } from '@oiseau/album/model';
import type { MasterMeasurement } from '@oiseau/audio/measure';
import type { Proof } from '@oiseau/render';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, deliveriesOf, startHarness, toneFile, type Harness } from '../testing/harness.js';

let harness: Harness;
let albumId: string;
beforeAll(async () => {
  harness = await startHarness();
  albumId = (await harness.call<{ id: string }>('POST', '/albums', { title: 'Masters' })).body.id;
});
afterAll(() => harness.close());

interface Master {
  sha256: string;
  name: string;
  info: { rate: number; length: number; format: string; dataOffset: number };
  replaces: string | null;
  job?: { state: string };
  measurement: MasterMeasurement | null;
}
const masters = async (): Promise<Master[]> =>
  (await harness.call<Master[]>('GET', `/albums/${albumId}/masters`)).body;
const bringIn = (name: string, bytes: Uint8Array<ArrayBuffer>) =>
  harness.send<{ sha256: string; reason: string; error: string }>(
    `/albums/${albumId}/masters?name=${encodeURIComponent(name)}`,
    bytes,
  );
const incoming = (): Promise<string[]> => readdir(join(harness.media.root, 'incoming'));

describe('masters', () => {
  it('are stored by content, once, under the name they came with', async () => {
    const file = toneFile(440, 3, 96_000, 'int24');
    const sha256 = createHash('sha256').update(file).digest('hex');
    expect(await bringIn('01 ünder/../säa.wav', file)).toEqual({
      status: 201,
      body: { sha256, bytes: file.length, known: false },
    });
    // The same bytes under another name are no other master, and change nothing.
    expect((await bringIn('again.wav', file)).body).toMatchObject({ sha256, known: true });
    expect((await readFile(harness.media.file(sha256))).equals(file)).toBe(true);
    expect(await masters()).toMatchObject([
      { sha256, name: '01 ünder/../säa.wav', info: { rate: 96_000, length: 288_000, format: 'int24' } },
    ]);
    expect(await incoming()).toEqual([]);
  });

  it('are measured by a worker, once', async () => {
    await harness.work();
    const [master] = await masters();
    // A sine of amplitude 0.4: −7.96 dBFS; both channels alike.
    expect(master?.measurement?.samplePeakDbfs).toBeCloseTo(-7.96, 2);
    expect(master?.measurement?.correlation).toBeCloseTo(1, 9);
    const outline = await harness.fetch(`/api/masters/${master?.sha256}/silhouette`);
    const values = new Uint16Array(await outline.arrayBuffer());
    expect(values.length).toBe(2 * 3 * 75);
    expect((values[0] ?? 0) / 32_768).toBeCloseTo(0.4, 2);
    const coarse = await harness.fetch(`/api/masters/${master?.sha256}/silhouette?step=64`);
    // 225 buckets of 1/75 s in steps of 64: four
    expect(new Uint16Array(await coarse.arrayBuffer()).length).toBe(8);
    const powers = await harness.fetch(`/api/masters/${master?.sha256}/powers`);
    expect(new Float32Array(await powers.arrayBuffer()).length).toBe(30);
    await bringIn('third.wav', toneFile(440, 3, 96_000, 'int24'));
    const waiting = await harness.db.one(
      (row) => Number(row.n),
      "SELECT COUNT(*) AS n FROM jobs WHERE state = 'queued'",
    );
    expect(waiting).toBe(0);
  });

  it('are read in ranges', async () => {
    const file = toneFile(440, 3, 96_000, 'int24');
    const sha256 = createHash('sha256').update(file).digest('hex');
    const response = await harness.fetch(`/api/masters/${sha256}/audio`, {
      headers: { Range: 'bytes=44-53' },
    });
    expect(response.status).toBe(206);
    expect(Buffer.from(await response.arrayBuffer())).toEqual(Buffer.from(file.slice(44, 54)));
  });

  const mono = (): Uint8Array<ArrayBuffer> => {
    const file = toneFile(440, 1);
    const view = new DataView(file.buffer);
    view.setUint16(22, 1, true);
    view.setUint16(32, 2, true);
    return file;
  };
  const channels = (count: number): Uint8Array<ArrayBuffer> => {
    const file = toneFile(440, 1);
    new DataView(file.buffer).setUint16(22, count, true);
    return file;
  };
  it.each([
    ['not audio', 'words.wav', () => new TextEncoder().encode('nothing but words in this file'), 'not-audio'],
    ['truncated', 'cut.wav', () => toneFile(440, 2).slice(0, 5000), 'truncated'],
    ['mono', 'mono.wav', mono, 'mono'],
    ['more than two channels', 'six.wav', () => channels(6), 'too-many-channels'],
    ['a wrong extension', 'picture.jpg', () => toneFile(440, 1), 'wrong-extension'],
    ['empty', 'empty.wav', () => new Uint8Array(0), 'empty'],
  ])('refuse a file that is %s, and keep nothing of it', async (_, name, make, reason) => {
    const before = await masters();
    const { status, body } = await bringIn(name, make());
    expect([status, body.reason]).toEqual([415, reason]);
    expect(body.error).toMatch(/^[“A-Z0-9].*\.$/);
    expect(await masters()).toEqual(before);
    expect(await incoming()).toEqual([]);
  });

  it('keep nothing of an upload that breaks off', async () => {
    await new Promise<void>((resolve) => {
      const upload = request(`${harness.url}/api/albums/${albumId}/masters?name=broken.wav`, {
        method: 'POST',
        headers: {
          'Content-Length': '100000',
          'Content-Type': 'application/octet-stream',
          Authorization: `Bearer ${harness.key}`,
        },
      });
      upload.on('error', () => resolve());
      upload.write(toneFile(440, 0.1), () => {
        void expect
          .poll(incoming)
          .toHaveLength(1)
          .finally(() => upload.destroy(new Error('line cut')));
      });
    });
    await expect.poll(incoming).toEqual([]);
  });
});

describe('a mono master', () => {
  it('waits for the person to agree, and then sounds in both channels', async () => {
    const file = toneFile(555, 1).slice();
    const view = new DataView(file.buffer);
    view.setUint16(22, 1, true);
    view.setUint16(32, 2, true);
    const id = await upload(file);
    const take = (mono: boolean) =>
      harness.call('POST', `/albums/${albumId}/masters`, { upload: id, name: 'mono.wav', mono });
    expect(await take(false)).toMatchObject({ status: 415, body: { reason: 'mono' } });
    expect(await take(true)).toMatchObject({ status: 201 });
    expect(await masters()).toContainEqual(
      expect.objectContaining({ name: 'mono.wav', info: expect.objectContaining({ channels: 1 }) as object }),
    );
    expect(await readdir(harness.media.uploads)).toEqual([]);
  });
});

/** Sends a file by the upload protocol, in one piece or up to `cut` only; gives the upload's number. */
async function upload(file: Uint8Array<ArrayBuffer>, cut = file.length): Promise<string> {
  const made = await harness.fetch(`/api/uploads`, {
    method: 'POST',
    headers: { 'Tus-Resumable': '1.0.0', 'Upload-Length': String(file.length) },
  });
  expect(made.status).toBe(201);
  const place = made.headers.get('location') ?? '';
  await piece(place, 0, file.slice(0, cut));
  return place.split('/').at(-1) ?? '';
}
async function piece(place: string, offset: number, bytes: Uint8Array<ArrayBuffer>): Promise<number> {
  const sent = await harness.fetch(place, {
    method: 'PATCH',
    headers: {
      'Tus-Resumable': '1.0.0',
      'Upload-Offset': String(offset),
      'Content-Type': 'application/offset+octet-stream',
    },
    body: bytes,
  });
  return Number(sent.headers.get('upload-offset'));
}

describe('an upload by pieces', () => {
  it('goes on from where it broke off', async () => {
    const file = toneFile(666, 2);
    const id = await upload(file, 100_000);
    const place = `/api/uploads/${id}`;
    const head = await harness.fetch(place, {
      method: 'HEAD',
      headers: { 'Tus-Resumable': '1.0.0' },
    });
    expect(head.headers.get('upload-offset')).toBe('100000');
    expect(await piece(place, 100_000, file.slice(100_000))).toBe(file.length);
    const taken = await harness.call<{ sha256: string }>('POST', `/albums/${albumId}/masters`, {
      upload: id,
      name: 'pieces.wav',
    });
    expect(taken.status).toBe(201);
    expect((await readFile(harness.media.file(taken.body.sha256))).equals(file)).toBe(true);
  });

  it('that is not whole waits for the rest, and one that nobody made is not known', async () => {
    const file = toneFile(667, 1);
    const id = await upload(file, 50_000);
    const take = (which: string) =>
      harness.call('POST', `/albums/${albumId}/masters`, { upload: which, name: 'half.wav' });
    expect(await take(id)).toMatchObject({
      status: 409,
      body: { error: 'The upload isn’t complete yet.' },
    });
    expect(await take('0'.repeat(32))).toMatchObject({
      status: 404,
      body: { error: 'This upload doesn’t exist.' },
    });
    expect(await take('../../etc/passwd')).toMatchObject({ status: 400 });
    await piece(`/api/uploads/${id}`, 50_000, file.slice(50_000));
    expect((await take(id)).status).toBe(201);
    expect(await readdir(harness.media.uploads)).toEqual([]);
  });
});

describe('a coded master', () => {
  it('is kept as it came, and played, measured and exported from its words', async () => {
    const coded = Uint8Array.from(
      execFileSync('ffmpeg', ['-v', 'error', '-i', 'pipe:0', '-f', 'flac', 'pipe:1'], {
        input: toneFile(777, 2, 44_100, 'int24'),
      }),
    );
    const { status, body } = await bringIn('coded.flac', coded);
    expect(status).toBe(201);
    await harness.work();
    const record = (await masters()).find(({ sha256 }) => sha256 === body.sha256);
    expect(record).toMatchObject({
      coding: { codec: 'flac', lossy: false },
      info: { format: 'int24', length: 88_200 },
    });
    expect(record?.measurement?.samplePeakDbfs).toBeCloseTo(-7.96, 2);
    expect((await readFile(harness.media.file(body.sha256))).equals(coded)).toBe(true);
    const words = await harness.fetch(`/api/masters/${body.sha256}/audio`);
    expect((await words.arrayBuffer()).byteLength).toBe((record?.info.dataOffset ?? 0) + 88_200 * 6);
  });
});

describe('a master that came in as a track to be', () => {
  const byPieces = async (bytes: Uint8Array<ArrayBuffer>): Promise<string> => {
    const made = await harness.fetch('/api/uploads', {
      method: 'POST',
      headers: { 'Tus-Resumable': '1.0.0', 'Upload-Length': String(bytes.length) },
    });
    const place = made.headers.get('location') ?? '';
    await harness.fetch(place, {
      method: 'PATCH',
      headers: {
        ...{ 'Tus-Resumable': '1.0.0', 'Upload-Offset': '0' },
        'Content-Type': 'application/offset+octet-stream',
      },
      body: bytes,
    });
    return place.split('/').at(-1) ?? '';
  };

  it('waits until somebody has said what becomes of it; one that is known does not wait', async () => {
    const { id } = (await harness.call<{ id: string }>('POST', '/albums', { title: 'Awaited' })).body;
    const file = toneFile(231, 3);
    const take = async () =>
      harness.call<{ sha256: string; known: boolean }>('POST', `/albums/${id}/masters`, {
        ...{ upload: await byPieces(file), name: 'a.wav', awaits: true },
      });
    const { sha256, known } = (await take()).body;
    expect(known).toBe(false);
    const awaits = async () =>
      (await harness.call<{ awaits: boolean; replaces: string | null }[]>('GET', `/albums/${id}/masters`))
        .body;
    expect(await awaits()).toMatchObject([{ awaits: true, replaces: null }]);
    const older = (
      await harness.send<{ sha256: string }>(`/albums/${id}/masters?name=o.wav`, toneFile(232, 3))
    ).body;
    const settle = (replaces: string) =>
      harness.call('POST', `/albums/${id}/masters/settled`, { masters: [{ sha256, replaces }] });
    expect((await settle(sha256)).status).toBe(422);
    expect((await settle(older.sha256)).status).toBe(204);
    expect((await take()).body.known).toBe(true);
    expect(await awaits()).toMatchObject([{ awaits: false, replaces: older.sha256 }, { awaits: false }]);
  });

  it('is put back by who has taken it out, and by nobody to whom it is not open', async () => {
    const { id } = (await harness.call<{ id: string }>('POST', '/albums', { title: 'Out' })).body;
    const { sha256 } = (
      await harness.send<{ sha256: string }>(`/albums/${id}/masters?name=o.wav`, toneFile(233, 3))
    ).body;
    const keyFor = async (albums: readonly string[]) =>
      (await harness.call<{ key: string }>('POST', '/keys', { name: 'Ada', role: 'assistant', albums })).body
        .key;
    const other = (await harness.call<{ id: string }>('POST', '/albums', { title: 'Other' })).body.id;
    const [mine, theirs] = [await keyFor([id]), await keyFor([other])];
    const ask = (key: string, method: string, album: string, body?: object) =>
      harness.fetch(`/api/albums/${album}/masters/${sha256}`, {
        method,
        headers: { Authorization: `Bearer ${key}`, 'X-Oiseau': '1', 'Content-Type': 'application/json' },
        ...(body ? { body: JSON.stringify(body) } : {}),
      });
    expect((await ask(theirs, 'PUT', other, { name: 'stolen.wav' })).status).toBe(404);
    expect((await ask(mine, 'DELETE', id)).status).toBe(204);
    expect((await ask(mine, 'PUT', id, { name: 'o.wav' })).status).toBe(204);
    expect((await harness.call<Master[]>('GET', `/albums/${id}/masters`)).body).toMatchObject([
      { sha256, name: 'o.wav' },
    ]);
  });
});

describe('a newer version of a master', () => {
  it('is kept beside the one it replaces; the same bytes are no newer version', async () => {
    const old = (await bringIn('take.wav', toneFile(888, 1))).body.sha256;
    const replace = async (file: Uint8Array<ArrayBuffer>) =>
      harness.call<{ sha256: string }>('POST', `/albums/${albumId}/masters`, {
        upload: await upload(file),
        name: 'take v2.wav',
        replaces: old,
      });
    expect(await replace(toneFile(888, 1))).toMatchObject({ status: 409, body: { same: true } });
    const { body } = await replace(toneFile(889, 1));
    expect((await masters()).find(({ sha256 }) => sha256 === body.sha256)?.replaces).toBe(old);
    expect((await harness.call('DELETE', `/albums/${albumId}/masters/${body.sha256}`)).status).toBe(204);
    expect((await masters()).map(({ sha256 }) => sha256)).not.toContain(body.sha256);
  });

  it('is not taken out of the album while a track plays it', async () => {
    const { id, album } = await albumWithTones(harness, [990]);
    expect(
      await harness.call('DELETE', `/albums/${id}/masters/${album.songs[0]?.region.master}`),
    ).toMatchObject({
      status: 409,
      body: { error: '“Tone 990” uses this master.' },
    });
  });

  it('stays for a revision that plays it, and the revision is rendered again when no song does', async () => {
    const plant = deliverableSchema.parse({ name: 'plant', kind: 'ddp' });
    const { id, album, version } = await albumWithTones(harness, [430, 431], { deliverables: [plant] });
    const render = async (): Promise<Proof | null> => {
      const order = { revision: 1 };
      const first = (await deliveriesOf(harness, id)).length === 0;
      expect((await harness.call('POST', `/albums/${id}/deliveries`, first ? {} : order)).status).toBe(202);
      await harness.work();
      return (await deliveriesOf(harness, id))[0]?.proof ?? null;
    };
    await harness.work();
    const before = await render();
    const [kept] = album.songs;
    const gone = album.songs[1]?.region.master ?? '';
    const songs = [kept];
    expect((await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, songs } })).status).toBe(
      200,
    );
    expect(await harness.call('DELETE', `/albums/${id}/masters/${gone}`)).toMatchObject({
      status: 409,
      body: {
        error: 'Revision 1 uses this master. It is kept so that the revision can be rendered again.',
      },
    });
    // A folder of an earlier version may have lost it from the album all the same.
    await harness.db.execute('DELETE FROM album_masters WHERE album_id = ? AND sha256 = ?', [id, gone]);
    expect(await render()).toEqual(before);
    expect(before?.proved).toBe(true);
    const revision = await harness.call<Revision>('GET', `/albums/${id}/revisions/1`);
    expect(Object.keys(revision.body.masters)).toContain(gone);
    // Brought back, the album has its master again.
    const back = { version: version + 1, album: revision.body.album };
    expect((await harness.call('PUT', `/albums/${id}`, back)).status).toBe(200);
    expect(
      (await harness.call<{ sha256: string }[]>('GET', `/albums/${id}/masters`)).body.map(
        ({ sha256 }) => sha256,
      ),
    ).toContain(gone);
  });
});

describe('measuring', () => {
  it('is stopped and taken up again', async () => {
    await harness.work();
    const { sha256 } = (await bringIn('stop.wav', toneFile(991, 1))).body;
    const stop = () => harness.call('POST', `/masters/${sha256}/measuring/stop`);
    expect((await stop()).status).toBe(202);
    const record = async () => (await masters()).find((master) => master.sha256 === sha256);
    expect(await record()).toMatchObject({ measurement: null, job: { state: 'stopped' } });
    expect(await stop()).toMatchObject({ status: 409, body: { error: 'Nothing is being measured.' } });
    expect((await harness.call('POST', `/masters/${sha256}/measuring`)).status).toBe(202);
    await harness.work();
    expect((await record())?.measurement).not.toBeNull();
  });
});

describe('covers', () => {
  const picture = async (width: number, height: number): Promise<Uint8Array<ArrayBuffer>> =>
    new Uint8Array(
      await sharp({ create: { width, height, channels: 3, background: '#345' } })
        .png()
        .toBuffer(),
    );

  it('are told by their first bytes', async () => {
    const kept = await harness.send<{ sha256: string }>('/pictures?name=cover.jpg', await picture(8, 8));
    expect(kept.status).toBe(201);
    const back = await harness.fetch(`/api/pictures/${kept.body.sha256}`);
    expect(back.headers.get('content-type')).toBe('image/png');
    expect(back.headers.get('cache-control')).toBe('private, max-age=31536000, immutable');
  });

  it('are refused where they can’t be read, or are too large to be covers, and nothing of them is kept', async () => {
    const stored = (): Promise<string[]> => readdir(harness.media.root, { recursive: true });
    const before = await stored();
    const none = {
      status: 415,
      body: { error: '“c.png” isn’t a readable JPEG or PNG picture.' },
    };
    for (const bytes of [
      new TextEncoder().encode('<svg onload="alert(1)"/>'),
      new TextEncoder().encode('GIF89a'),
      Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 1, 2, 3]),
      (await picture(64, 64)).slice(0, 20),
    ])
      expect(await harness.send('/pictures?name=c.png', bytes)).toMatchObject(none);
    // 50.01 million pixels in some hundred kilobytes.
    expect(await harness.send('/pictures?name=c.png', await picture(10_002, 5000))).toMatchObject({
      status: 422,
      body: { error: '“c.png” has 10002 × 5000 pixels; the maximum is 50 million.' },
    });
    expect(await stored()).toEqual(before);
  });
});

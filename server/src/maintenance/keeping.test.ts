import { randomUUID } from 'node:crypto';
import { mkdir, readdir, readFile, rm, stat, truncate, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Health, Keeping } from '@oiseau/api';
import { deliverableSchema } from '@oiseau/album/model';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { listShelf } from '../albums/shelf.js';
import { Uploads } from '../media/uploads.js';
import {
  albumWithTones,
  deliveriesOf,
  renderedFolder,
  startHarness,
  toneFile,
  type Harness,
} from '../testing/harness.js';
import { giveSign, signOff, troublesOf } from './health.js';
import { emptyBin, keepHouse } from './housekeeping.js';
import { verifyStore } from './verify.js';

let harness: Harness;
beforeEach(async () => {
  harness = await startHarness();
});
afterEach(() => harness.close());

const DAY = 24 * 3600_000;
const TRACKS = deliverableSchema.parse({ name: 'Tracks', kind: 'tracks' });
const keeping = async (): Promise<Keeping> => (await harness.call<Keeping>('GET', '/keeping')).body;
const parts = () => ({ db: harness.db, media: harness.media, uploads: new Uploads(harness.media) });
const isThere = (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  );

async function rendered(): Promise<{ id: string; masters: string[]; folder: string; version: number }> {
  const { id, album, version } = await albumWithTones(harness, [440, 550], { deliverables: [TRACKS] });
  await harness.call('POST', `/albums/${id}/deliveries`, {});
  await harness.work();
  const [delivery] = await deliveriesOf(harness, id);
  if (!delivery) throw new Error('not rendered');
  const folder = await renderedFolder(harness, delivery);
  return { id, version, folder, masters: album.songs.map(({ region }) => region.master) };
}

/** Looks everything over, and gives what was wrong. */
async function lookOver(): Promise<string[]> {
  expect((await harness.call('POST', '/keeping/verify')).status).toBe(202);
  await harness.work();
  const { verified, verifying } = await keeping();
  expect(verifying?.state).toBe('done');
  return verified?.report.faults.map(({ words }) => words) ?? ['nobody has looked'];
}

describe('a look over everything', () => {
  it('finds nothing where nothing is wrong, and says what it has read', async () => {
    await rendered();
    expect((await keeping()).verified).toBeNull();
    expect(await lookOver()).toEqual([]);
    // Two masters; two tracks, their sums and their proof.
    expect((await keeping()).verified?.report.files).toBe(6);
  });

  it('names every file that is lost, cut or changed, and says what helps', async () => {
    const { masters, folder } = await rendered();
    await rm(harness.media.file(masters[0] ?? ''));
    const second = harness.media.file(masters[1] ?? '');
    const bytes = await readFile(second);
    bytes[1000] = (bytes[1000] ?? 0) ^ 1;
    await writeFile(second, bytes);
    const [first, other] = (await readdir(folder)).filter((name) => name.endsWith('.wav')).sort();
    await truncate(join(folder, first ?? ''), 7);
    await rm(join(folder, other ?? ''));
    const faults = await lookOver();
    const said = (start: string, end: string): void =>
      expect(faults.filter((fault) => fault.startsWith(start) && fault.endsWith(end))).toHaveLength(1);
    expect(faults).toHaveLength(4);
    said('The master “440.wav” is missing', 'Add the same file again.');
    said('The master “550.wav” has changed on the disk', 'Add the same file again.');
    said(`“${first}” of the render “Tracks”, revision 1 of “Nine Tides”, has 7 bytes`, 'Render it again.');
    said(`“${other}” of the render`, 'is missing. Render it again.');
  });

  it('reads every document of the database', async () => {
    const { id } = await rendered();
    await harness.db.execute("UPDATE albums SET document = '{'");
    await harness.db.execute("UPDATE deliveries SET proof = '{}'");
    const faults = await lookOver();
    expect(faults).toHaveLength(2);
    expect(faults[0]).toContain(`The album ${id}: This album is damaged.`);
    expect(faults[1]).toMatch(/^The proof of the delivery .* is damaged\. Render it again\.$/);
  });
});

describe('housekeeping', () => {
  it('sees a flipped bit in a proof, and rows that can’t be read or say something else than their file', async () => {
    const { id, album } = await albumWithTones(harness, [450, 451]);
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] });
    await harness.work();
    const [delivery] = await deliveriesOf(harness, id);
    if (!delivery) throw new Error('no delivery');
    const path = join(await renderedFolder(harness, delivery), 'proof.json');
    const whole = await readFile(path, 'utf8');
    const look = async () =>
      (await verifyStore(harness.db, harness.media, () => Promise.resolve())).faults.map(
        ({ words }) => words,
      );
    expect(await look()).toEqual([]);
    await writeFile(
      path,
      whole.replace(/"frames": (\d)/, (_, digit: string) => `"frames": ${Number(digit) ^ 1}`),
    );
    expect(await look()).toEqual([
      '“proof.json” of the render “image” has changed on disk. Render it again.',
    ]);
    await writeFile(path, whole);
    const [first = '', second = ''] = album.songs.map(({ region }) => region.master);
    await harness.db.execute('UPDATE masters SET measurement = \'{"odd":1}\' WHERE sha256 = ?', [first]);
    await harness.db.execute("UPDATE masters SET info = JSON_SET(info, '$.length', 7) WHERE sha256 = ?", [
      second,
    ]);
    await harness.db.execute("UPDATE deliveries SET deliverable = '{}' WHERE id = ?", [delivery.id]);
    const faults = await look();
    expect(faults).toContain(
      `The record of the master ${first.slice(0, 12)} is damaged (measurement). Add the same file again to repair it.`,
    );
    expect(faults).toContain(
      `The record of the master ${second.slice(0, 12)} doesn’t match its file. Add the same file again to repair it.`,
    );
    expect(faults).toContain(
      `The record of the render ${delivery.id} is damaged (deliverable). Render it again.`,
    );
  });

  it('takes away what nothing has used for thirty days, and lists it before', async () => {
    const { body } = await harness.send<{ sha256: string }>('/masters?name=loose.wav', toneFile(330, 5));
    const { masters } = await rendered();
    const [unused, ...more] = (await keeping()).unused;
    expect(more).toEqual([]);
    expect(unused).toMatchObject({
      kind: 'master',
      name: body.sha256.slice(0, 12),
      bytes: 5 * 4 * 44_100 + 44,
    });
    expect(Date.parse(unused?.goesAt ?? '') - Date.parse(unused?.since ?? '')).toBe(30 * DAY);
    await keepHouse(parts(), Date.now() + 29 * DAY);
    expect(await isThere(harness.media.file(body.sha256))).toBe(true);
    await keepHouse(parts(), Date.now() + 31 * DAY);
    expect(await isThere(harness.media.file(body.sha256))).toBe(false);
    for (const master of masters) expect(await isThere(harness.media.file(master))).toBe(true);
    expect((await keeping()).unused).toEqual([]);
    expect(await lookOver()).toEqual([]);
  });

  it('leaves what comes into use again, and what only a revision plays or a master brought along', async () => {
    const { id, masters, version } = await rendered();
    // The album plays it no more, and has it no more; its revision does.
    await harness.db.execute('DELETE FROM album_masters WHERE sha256 = ?', [masters[0] ?? '']);
    const { body } = await harness.call<{ album: object }>('GET', `/albums/${id}`);
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...body.album, songs: [] } });
    const { body: loose } = await harness.send<{ sha256: string }>('/masters?name=l.wav', toneFile(330, 5));
    expect((await keeping()).unused.map(({ name }) => name)).toEqual([loose.sha256.slice(0, 12)]);
    await harness.send(`/albums/${id}/masters?name=used.wav`, toneFile(330, 5));
    expect((await keeping()).unused).toEqual([]);
    await keepHouse(parts(), Date.now() + 31 * DAY);
    for (const sha256 of [...masters, loose.sha256])
      expect(await isThere(harness.media.file(sha256))).toBe(true);
  });

  it('empties the bin after thirty days, with renders, and never what is on the Shelf', async () => {
    const gone = await rendered();
    await harness.call('DELETE', `/albums/${gone.id}`);
    const stays = await albumWithTones(harness, [440]);
    expect((await keeping()).bin).toMatchObject([{ id: gone.id, title: 'Nine Tides' }]);
    expect((await keeping()).bin[0]?.renderBytes).toBeGreaterThan(1_000_000);
    await keepHouse(parts(), Date.now() + 29 * DAY);
    expect((await harness.call('POST', `/albums/${gone.id}/restore`)).status).toBe(204);
    await harness.call('DELETE', `/albums/${gone.id}`);
    // What keepHouse does with it thirty days later; the clock of the masters begins only then.
    await emptyBin(harness.db, harness.media, Date.now() + 1000);
    expect((await harness.call('POST', `/albums/${gone.id}/restore`)).status).toBe(404);
    expect(await isThere(gone.folder)).toBe(false);
    expect((await keeping()).bin).toEqual([]);
    // One master is played on the Shelf; the other is unused from now on.
    expect((await keeping()).unused.map(({ name }) => name)).toEqual([gone.masters[1]?.slice(0, 12)]);
    expect((await harness.call('GET', `/albums/${stays.id}`)).status).toBe(200);
    expect(await lookOver()).toEqual([]);
  });

  it('takes up what killed programs have left: files and folders that no row names, attempts that came to nothing', async () => {
    const { masters, folder } = await rendered();
    const { root } = harness.media;
    const orphan = join(root, 'files', 'ab', 'ab'.repeat(32));
    const half = `${harness.media.file(masters[0] ?? '')}.${randomUUID()}`;
    const attempt = join(folder, '../../99-1');
    const nobodys = join(root, 'deliveries', randomUUID());
    await mkdir(join(root, 'files', 'ab'), { recursive: true });
    for (const made of [attempt, nobodys]) await mkdir(made);
    for (const path of [orphan, half, join(attempt, 'x.wav'), join(nobodys, 'x.wav')])
      await writeFile(path, 'x');
    await keepHouse(parts());
    // Young files may still be importing; an attempt without a worker is over.
    expect(await Promise.all([orphan, half, nobodys, attempt].map(isThere))).toEqual([
      true,
      true,
      true,
      false,
    ]);
    await keepHouse(parts(), Date.now() + 2 * DAY);
    expect(await Promise.all([orphan, half, nobodys].map(isThere))).toEqual([false, false, false]);
    expect(await lookOver()).toEqual([]);
  });

  it('clears before its time what a person asks for, and says how much that was', async () => {
    const { body: loose } = await harness.send<{ sha256: string }>('/masters?name=l.wav', toneFile(330, 5));
    const { id } = await rendered();
    await harness.call('DELETE', `/albums/${id}`);
    const passing = join(harness.media.root, 'images', 'x');
    await writeFile(passing, 'xyz');
    await utimes(passing, new Date(), new Date());
    await keeping();
    expect((await harness.call('POST', '/keeping/clear', { what: 'unused' })).body).toEqual({
      files: 1,
      bytes: 5 * 4 * 44_100 + 44,
    });
    expect(await isThere(harness.media.file(loose.sha256))).toBe(false);
    expect((await harness.call('POST', '/keeping/clear', { what: 'passing' })).body).toEqual({
      files: 1,
      bytes: 3,
    });
    expect(
      (await harness.call<{ files: number }>('POST', '/keeping/clear', { what: 'bin' })).body.files,
    ).toBe(4);
    const { stored, bin } = await keeping();
    expect(bin).toEqual([]);
    expect(stored.find(({ kind }) => kind === 'renders')).toEqual({ kind: 'renders', files: 0, bytes: 0 });
    const { body: events } = await harness.call<{ what: string; detail: string }[]>('GET', '/events');
    expect(events.filter(({ what }) => what === 'cleared').map(({ detail }) => detail)).toEqual([
      'deleted albums',
      'uploads and opened images',
      'unused masters and pictures',
    ]);
  });
});

describe('health', () => {
  const health = async (): Promise<Health> => (await harness.call<Health>('GET', '/health')).body;

  it('asks the things themselves', async () => {
    expect((await health()).troubles).toEqual([
      'No worker responds. Measuring and rendering are not possible.',
    ]);
    // A courier measures and renders nothing.
    await giveSign(harness.db, 'here:2', null, 'courier');
    expect((await health()).troubles).toHaveLength(1);
    await signOff(harness.db, 'here:2');
    await giveSign(harness.db, 'here:1', null);
    const found = await health();
    expect(found).toMatchObject({ ok: true, troubles: [], queue: { queued: 0, running: 0 } });
    expect(found.versions.database).toMatch(/MariaDB/);
    expect(found.workers.map(({ name }) => name)).toEqual(['here:1']);
    await giveSign(harness.db, 'here:1', 'it does not see the media store.');
    expect((await health()).troubles).toEqual([
      'Worker here:1 can’t run jobs: it does not see the media store.',
    ]);
  });

  it('of a fault is found in the log by what its sentence names', async () => {
    await harness.db.execute('ALTER TABLE presets RENAME TO put_away');
    const response = await harness.fetch('/api/presets');
    const { error } = (await response.json()) as { error: string };
    const id = response.headers.get('X-Request-Id') ?? '';
    expect(id).toMatch(/^[0-9a-f]{8}$/);
    expect([response.status, error]).toEqual([
      500,
      `An error occurred in the server. Nothing was changed. See ${id} in the log.`,
    ]);
  });

  it('says what is wrong in words, the worst first', () => {
    const disk = { free: 2e9, total: 9e9, reserve: 500e6 };
    const worker = { name: 'w', secondsAgo: 1, trouble: null, computes: true };
    const queue = { queued: 0, running: 0 };
    const well = { disk, queue, workers: [worker], ffmpeg: '7.0' };
    expect(troublesOf(well)).toEqual([]);
    expect(
      troublesOf({ ...well, workers: [{ ...worker, secondsAgo: 31 }], queue: { queued: 1, running: 0 } }),
    ).toEqual(['No worker responds. Queued measuring and rendering is on hold.']);
    expect(
      troublesOf({ ...well, disk: { ...disk, free: 400e6 }, ffmpeg: null }).map((words) =>
        words.slice(0, 18),
      ),
    ).toEqual(['The disk is nearly', 'FFmpeg is missing,']);
    expect(troublesOf({ ...well, disk: { ...disk, free: 900e6 } })).toEqual([
      'The disk has 0.9 GB left; 0.5 GB are reserved.',
    ]);
  });
});

describe('the Shelf', () => {
  const titles = async (query = ''): Promise<{ titles: string[]; total: number }> => {
    const { body } = await harness.call<{ albums: { title: string }[]; total: number }>(
      'GET',
      `/albums${query}`,
    );
    return { titles: body.albums.map(({ title }) => title), total: body.total };
  };

  it('comes by pages, and by words of title and performer', async () => {
    for (const title of ['Äther', '100 % Salt', 'Low_Light'])
      await harness.call('POST', '/albums', { title });
    expect(await titles('?limit=2')).toEqual({ titles: ['Low_Light', '100 % Salt'], total: 3 });
    expect(await titles('?limit=2&offset=2')).toEqual({ titles: ['Äther'], total: 3 });
    for (const [q, found] of [
      ['salt', ['100 % Salt']],
      ['%', ['100 % Salt']],
      ['w_l', ['Low_Light']],
      ['_', ['Low_Light']],
      ['ather', ['Äther']],
      ["'; DROP TABLE albums; --", []],
    ] as const)
      expect((await titles(`?q=${encodeURIComponent(q)}`)).titles).toEqual(found);
  });

  it('tells of an album as it was saved last, however that came about', async () => {
    const { id, version, album } = await albumWithTones(harness, [440]);
    expect((await titles()).titles).toEqual(['Nine Tides']);
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, title: 'Ten', songs: [] } });
    const { body } = await harness.call<{ albums: object[] }>('GET', '/albums');
    expect(body.albums).toMatchObject([{ title: 'Ten', tracks: 0, frames: 0 }]);
    // Written by hand, with its version: as an earlier version of Oiseau would.
    await harness.db.execute(
      `UPDATE albums SET document = JSON_REPLACE(document, '$.title', 'By hand'), version = version + 1`,
    );
    expect((await titles()).titles).toEqual(['By hand']);
  });

  it('of two thousand albums answers without a look at any document', async () => {
    const { id } = await albumWithTones(harness, [440]);
    await titles();
    await harness.db.execute(
      `INSERT INTO albums (id, document, version, listed_version, title, tracks, created_at, updated_at)
       SELECT UUID(), '{', 1, 1, CONCAT('Album ', seq), 99, created_at, updated_at FROM albums JOIN seq_1_to_2000 WHERE id = ?`,
      [id],
    );
    const visitor = { keyId: 'first', name: '', role: 'engineer', opensAll: true, from: 'x' } as const;
    // No document of them could be read.
    const { albums, total } = await listShelf(harness.db, visitor, {
      q: '',
      order: 'edited',
      offset: 1900,
      limit: 60,
    });
    expect([albums.length, total]).toEqual([60, 2001]);
    expect(albums.every(({ damaged }) => !damaged)).toBe(true);
  });
});

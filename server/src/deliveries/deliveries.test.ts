import { readdir } from 'node:fs/promises';
import type { Revision } from '@oiseau/api';
import { deliverableSchema, type Album } from '@oiseau/album/model';
import { pcmFileBytes, PcmFileSource, type PcmInfo } from '@oiseau/audio/pcm';
import { Silhouette } from '@oiseau/audio/measure';
import { VERSION } from '@oiseau/render';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  albumWithTones,
  deliveriesOf,
  startHarness,
  type AnsweredDelivery,
  type Harness,
} from '../testing/harness.js';
import { workOnce } from '../worker/work.js';

let harness: Harness;
beforeEach(async () => {
  harness = await startHarness();
});
afterEach(() => harness.close());

const deliveries = (id: string): Promise<AnsweredDelivery[]> => deliveriesOf(harness, id);

const PLANT = deliverableSchema.parse({ name: 'plant', kind: 'ddp' });
const RADIO = deliverableSchema.parse({ name: 'radio', kind: 'tracks', format: 'mp3', bitrate: 128 });

/** An album of one tone with the two deliverables, rendered once. */
async function rendered(): Promise<{ id: string; version: number; album: Album; plant: AnsweredDelivery }> {
  const made = await albumWithTones(harness, [300], { deliverables: [PLANT, RADIO] });
  await harness.call('POST', `/albums/${made.id}/deliveries`, { by: 'Ada' });
  await harness.work();
  const plant = (await deliveries(made.id)).find(({ deliverable }) => deliverable.name === 'plant');
  return { ...made, plant: plant as AnsweredDelivery };
}

describe('deliveries', () => {
  it('keep who asked, and are proved in every form', async () => {
    const { id } = await rendered();
    const all = await deliveries(id);
    expect(all.map(({ state, askedBy, proof }) => [state, askedBy, proof?.proved])).toEqual([
      ['done', 'Ada', true],
      ['done', 'Ada', true],
    ]);
  });

  it('can have their files cleared: the record stays, and rendering again gives the same bytes', async () => {
    const { id, plant } = await rendered();
    const sums = plant.proof?.files.map(({ path, sha256 }) => [path, sha256]);
    expect((await harness.call('POST', `/deliveries/${plant.id}/clear`)).status).toBe(204);
    await expect(readdir(harness.media.delivery(plant.id))).rejects.toThrow('ENOENT');
    expect(await harness.call('GET', `/deliveries/${plant.id}/files`)).toMatchObject({
      status: 410,
      body: { error: expect.stringContaining('Render it again') },
    });
    const cleared = (await deliveries(id)).find((each) => each.id === plant.id);
    expect(cleared?.clearedAt).not.toBeNull();
    expect(cleared?.proof?.proved).toBe(true);
    expect((await harness.call('POST', `/deliveries/${plant.id}/retry`)).status).toBe(202);
    await harness.work();
    const again = (await deliveries(id)).find((each) => each.id === plant.id);
    expect(again).toMatchObject({ state: 'done', clearedAt: null });
    expect(again?.proof?.files.map(({ path, sha256 }) => [path, sha256])).toEqual(sums);
    expect(again?.compared).toEqual({ before: plant.proof?.made, differences: [] });
  });

  it('say which files of an old revision have other bytes now, and which versions made both', async () => {
    const { id, plant } = await rendered();
    expect(plant.compared).toBeNull();
    expect(plant.proof?.made).toMatchObject({ oiseau: VERSION, ffmpeg: expect.stringMatching(/^\S+$/) });
    const revisions = await harness.call<{ made: unknown }[]>('GET', `/albums/${id}/revisions`);
    expect(revisions.body.map(({ made }) => made)).toEqual([plant.proof?.made]);
    // Another version has made other audio, and has noted itself.
    await harness.db.execute(
      `UPDATE deliveries SET proof = JSON_REPLACE(proof, '$.made.oiseau', '0.0.9', '$.files[0].sha256', REPEAT('0', 64)) WHERE id = ?`,
      [plant.id],
    );
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['plant'], revision: 1 });
    await harness.work();
    const [newest] = (await deliveries(id)).filter(({ deliverable }) => deliverable.name === 'plant');
    expect(newest?.id).not.toBe(plant.id);
    expect(newest?.compared).toMatchObject({
      before: { oiseau: '0.0.9' },
      differences: [{ path: plant.proof?.files[0]?.path }],
    });
  });

  it('of an older revision can be asked for when the album has moved on', async () => {
    const { id, version, album, plant } = await rendered();
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, title: 'Renamed' } });
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['plant'] });
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['plant'], revision: 1 });
    await harness.work();
    const plants = (await deliveries(id)).filter(({ deliverable }) => deliverable.name === 'plant');
    expect(plants.map(({ revision }) => revision)).toEqual([2, 1, 1]);
    expect(plants[1]?.proof).toEqual(plant.proof);
    expect((await harness.call<{ number: number }[]>('GET', `/albums/${id}/revisions`)).body).toMatchObject([
      { number: 2 },
      { number: 1 },
    ]);
    const titles = await Promise.all(
      [1, 2].map(
        async (n) => (await harness.call<Revision>('GET', `/albums/${id}/revisions/${n}`)).body.album.title,
      ),
    );
    expect(titles).toEqual(['Nine Tides', 'Renamed']);
    expect((await harness.call('GET', `/albums/${id}/revisions/3`)).status).toBe(404);
    const refused = await harness.call('POST', `/albums/${id}/deliveries`, { revision: 9 });
    expect(refused.status).toBe(404);
  });

  it('that wait can be put before the others', async () => {
    const { id } = await albumWithTones(harness, [300], { deliverables: [PLANT, RADIO] });
    await harness.work();
    await harness.call('POST', `/albums/${id}/deliveries`, {});
    const radio = (await deliveries(id)).find(({ deliverable }) => deliverable.name === 'radio');
    expect((await harness.call('POST', `/deliveries/${radio?.id}/first`)).status).toBe(202);
    await workOnce(harness.worker);
    const states = Object.fromEntries(
      (await deliveries(id)).map(({ deliverable, state }) => [deliverable.name, state]),
    );
    expect(states).toEqual({ radio: 'done', plant: 'queued' });
    expect((await harness.call('POST', `/deliveries/${radio?.id}/first`)).status).toBe(409);
  });
});

describe('listening to what was rendered', () => {
  it('gives the bare words of an image a head, whole and in ranges', async () => {
    const { plant } = await rendered();
    const at = `/api/deliveries/${plant.id}/listen/IMAGE.DAT`;
    // 2 s of pause and 5 s of sound: 525 sectors.
    const whole = await harness.fetch(at);
    const bytes = new Uint8Array(await whole.arrayBuffer());
    expect(whole.headers.get('content-type')).toBe('audio/wav');
    expect(bytes.length).toBe(44 + 525 * 2352);
    for (const [from, to] of [
      [0, 9],
      [40, 60],
      [400_000, 400_100],
    ] as const) {
      const part = await harness.fetch(at, { headers: { Range: `bytes=${from}-${to}` } });
      expect(part.status).toBe(206);
      expect(part.headers.get('content-range')).toBe(`bytes ${from}-${to}/${bytes.length}`);
      expect(new Uint8Array(await part.arrayBuffer())).toEqual(bytes.subarray(from, to + 1));
    }
    expect((await harness.fetch(at, { headers: { Range: `bytes=${bytes.length}-` } })).status).toBe(416);
    const outside = await harness.fetch(`/api/deliveries/${plant.id}/listen/${encodeURIComponent('../x')}`);
    expect(outside.status).toBe(404);
  });

  it.each([
    { format: 'wav', bits: 16 },
    { format: 'aiff', bits: 16 },
    { format: 'flac', bits: 16 },
    { format: 'm4a', codec: 'alac', bits: 16 },
  ])('gives the samples of every form at any place, and their outline: %o', async (form) => {
    const deliverables = [deliverableSchema.parse({ name: 'Heard', kind: 'tracks', ...form })];
    const { id } = await albumWithTones(harness, [440], { deliverables });
    await harness.call('POST', `/albums/${id}/deliveries`, {});
    await harness.work();
    const [delivery] = await deliveriesOf(harness, id);
    const at = `/deliveries/${delivery?.id}/heard/${encodeURIComponent(`01 Tone 440.${form.format}`)}`;
    const { body } = await harness.call<{ info: PcmInfo }>('GET', at);
    expect(body.info).toMatchObject({ rate: 44_100, channels: 2, length: 5 * 44_100 });
    const read = async (from: number, to: number): Promise<Uint8Array> => {
      const answer = await harness.fetch(`/api${at}/audio`, {
        headers: { Range: `bytes=${from}-${to - 1}` },
      });
      expect(answer.status).toBe(206);
      return new Uint8Array(await answer.arrayBuffer());
    };
    const source = new PcmFileSource(body.info, {
      size: pcmFileBytes(body.info),
      read: (offset, count) => read(offset, offset + count),
    });
    // A tone of 0.4 as it went into the master, in 16 bits.
    const { left } = await source.read(1000, 100);
    const wanted = (n: number) => Math.round(0.4 * Math.sin((2 * Math.PI * 440 * n) / 44_100) * 32_768);
    expect([...left].map((value, i) => Math.abs(value * 32_768 - wanted(1000 + i)))).toEqual(
      Array.from({ length: 100 }, () => 0),
    );
    const outline = Silhouette.fromBytes(
      new Uint8Array(await (await harness.fetch(`/api${at}/outline?step=75`)).arrayBuffer()),
    );
    // A point for each second: the peak 0.4, its RMS that less 3.01 dB.
    expect(outline.length).toBe(5);
    expect(outline.over(2, 3).peak).toBeCloseTo(0.4, 3);
    expect(outline.over(2, 3).rms).toBeCloseTo(0.4 / Math.SQRT2, 3);
    expect((await harness.call('GET', `/deliveries/${delivery?.id}/heard/SHA256SUMS`)).status).toBe(404);
  });

  it('keeps notes at moments of a file, to be worded and taken out', async () => {
    const { plant } = await rendered();
    const notes = `/deliveries/${plant.id}/notes`;
    await harness.call('POST', notes, { path: 'IMAGE.DAT', seconds: 4.5, text: '' });
    const early = await harness.call<{ id: string }>('POST', notes, {
      path: 'IMAGE.DAT',
      seconds: 2.25,
      text: 'click?',
    });
    await harness.call('PUT', `/notes/${early.body.id}`, { text: 'a click at the start' });
    expect((await harness.call<object[]>('GET', notes)).body).toMatchObject([
      { seconds: 2.25, text: 'a click at the start' },
      { seconds: 4.5, text: '' },
    ]);
    await harness.call('DELETE', `/notes/${early.body.id}`);
    expect((await harness.call<object[]>('GET', notes)).body).toHaveLength(1);
    expect((await harness.call('POST', notes, { path: 'x', seconds: -1, text: '' })).status).toBe(400);
    expect(
      (await harness.call('POST', '/deliveries/none/notes', { path: 'x', seconds: 1, text: '' })).status,
    ).toBe(404);
  });
});

describe('presets', () => {
  it('are kept for every album, changed and forgotten', async () => {
    const put = (settings: object) => harness.call('PUT', '/presets/for%20Ada', settings);
    expect((await put(RADIO)).status).toBe(200);
    expect((await put({ ...RADIO, bitrate: 192 })).status).toBe(200);
    expect((await harness.call('GET', '/presets')).body).toEqual([
      { name: 'for Ada', deliverable: { ...RADIO, bitrate: 192 } },
    ]);
    expect(await put({ ...RADIO, bitrate: 200 })).toMatchObject({
      status: 400,
      body: { error: expect.stringContaining('MP3 knows') },
    });
    await harness.call('DELETE', '/presets/for%20Ada');
    expect((await harness.call('GET', '/presets')).body).toEqual([]);
  });
});

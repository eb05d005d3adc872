import { NO_ALBUM_TREATMENT, NO_TREATMENT } from '@oiseau/audio/stages';
import { secondsToTicks } from '@oiseau/audio/time';
import { Silhouette } from '@oiseau/audio/measure';
import type { Album } from '@oiseau/album/model';
import type { MeasuredSound, RoomFigures } from '@oiseau/album/measured';
import type { SoundRecord } from '@oiseau/api';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, startHarness, type Harness } from '../testing/harness.js';
import { forgetSounds } from './sound-repository.js';

let harness: Harness;
let id: string;
let master: string;
beforeAll(async () => {
  harness = await startHarness();
  const made = await albumWithTones(harness, [440]);
  ({ id } = made);
  master = made.album.songs[0]?.region.master ?? '';
  await harness.work();
});
afterAll(() => harness.close());

const ridden = (ride: number): MeasuredSound => ({
  ...{ kind: 'song', master, gainDb: 0, sound: { ...NO_TREATMENT, ride } },
});
const ask = (...sounds: MeasuredSound[]) =>
  harness.call<SoundRecord[]>('POST', `/albums/${id}/sounds`, { sounds });
const figuresOf = async (sound: MeasuredSound) => (await ask(sound)).body[0]?.figures ?? null;

describe('treated sounds', () => {
  it('are measured when they are asked for, once, and told with their outline', async () => {
    const first = await ask(ridden(-6));
    expect(first.status).toBe(200);
    expect(first.body).toMatchObject([{ figures: null, job: { state: 'queued', share: 0 } }]);
    await harness.work();
    const [record] = (await ask(ridden(-6))).body;
    // A sine of amplitude 0.4 is −7.96 dBFS.
    expect(record?.figures?.measurement.samplePeakDbfs).toBeCloseTo(-13.96, 2);
    const outline = await harness.fetch(`/api/albums/${id}/sounds/${record?.key}/outline`);
    const bytes = await outline.arrayBuffer();
    // Five seconds: 375 times peak, RMS and two bytes of what is taken away.
    expect(bytes.byteLength).toBe(375 * 6);
    expect(new Silhouette(new Uint16Array(bytes, 0, 750)).over(100, 101).peak).toBeCloseTo(0.4 / 1.9953, 3);
    const powers = await harness.fetch(`/api/albums/${id}/sounds/${record?.key}/powers`);
    expect((await powers.arrayBuffer()).byteLength).toBe(50 * 4);
    const jobs = await harness.db.many((row) => Number(row.id), "SELECT id FROM jobs WHERE kind = 'sound'");
    expect(jobs).toHaveLength(1);
  });

  it('are those of an album that has their masters, and of no other', async () => {
    const other = (await harness.call<{ id: string }>('POST', '/albums', { title: 'Other' })).body.id;
    const refused = await harness.call('POST', `/albums/${other}/sounds`, { sounds: [ridden(-6)] });
    expect(refused.status).toBe(409);
    const [record] = (await ask(ridden(-6))).body;
    expect((await harness.fetch(`/api/albums/${other}/sounds/${record?.key}/outline`)).status).toBe(404);
    expect((await ask(ridden(99))).status).toBe(400);
  });

  it('of a whole part tell of each song where it sounds', async () => {
    const { album } = (await harness.call<{ album: Album }>('GET', `/albums/${id}`)).body;
    const region = {
      ...(album.songs[0]?.region as Album['songs'][number]['region']),
      out: secondsToTicks(5),
    };
    const sound = { ...NO_ALBUM_TREATMENT, limiter: { drive: -6, ceiling: -1, release: 80 } };
    const part: MeasuredSound = {
      ...{ kind: 'part', endPause: region.in, sound },
      songs: [{ id: 't', region }],
    };
    await ask(part);
    await harness.work();
    expect((await figuresOf(part))?.songs.t?.truePeakDbtp).toBeCloseTo(-13.96, 1);
  });

  it('of which nobody waits any more are left alone, and begun again when somebody does', async () => {
    await ask(ridden(-3));
    await harness.db.execute('UPDATE sounds SET asked_at = asked_at - INTERVAL 1 HOUR');
    await harness.work();
    const [idle] = (await ask(ridden(-3))).body;
    expect(idle).toMatchObject({ figures: null, job: { state: 'queued' } });
    await harness.work();
    expect((await figuresOf(ridden(-3)))?.measurement.samplePeakDbfs).toBeCloseTo(-10.96, 2);
  });

  it('count in the checks before an album is rendered, once they are measured', async () => {
    const { album, version } = (await harness.call<{ album: Album; version: number }>('GET', `/albums/${id}`))
      .body;
    const limiter = { drive: 12, ceiling: -8, release: 50 };
    const songs = album.songs.map((song) => ({
      ...song,
      region: { ...song.region, sound: { ...NO_TREATMENT, limiter } },
    }));
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, songs } });
    const sound: MeasuredSound = {
      ...{ kind: 'song', master, gainDb: 0 },
      sound: { ...NO_TREATMENT, limiter },
    };
    await ask(sound);
    await harness.work();
    // −7.96 + 12 dBFS: 12 dB over the ceiling, all the time.
    expect((await figuresOf(sound))?.limiter).toMatchObject({ times: 1 });
    expect((await figuresOf(sound))?.limiter?.mostDb).toBeCloseTo(12, 0);
  });

  it('are forgotten after a while without a question, with their jobs', async () => {
    await harness.db.execute('UPDATE sounds SET asked_at = asked_at - INTERVAL 40 DAY');
    await harness.db.execute(
      "UPDATE jobs SET finished_at = finished_at - INTERVAL 2 DAY WHERE kind = 'sound'",
    );
    await forgetSounds(harness.db, 30);
    const rows = await harness.db.many((row) => row, 'SELECT id FROM sounds');
    const jobs = await harness.db.many((row) => row, "SELECT id FROM jobs WHERE kind = 'sound'");
    expect([rows.length, jobs.length]).toEqual([0, 0]);
  });
});

describe('room for encoders', () => {
  it('is found by encoding: the ceiling under which nothing decoded comes over full scale', async () => {
    const { album } = (await harness.call<{ album: Album }>('GET', `/albums/${id}`)).body;
    const region = { ...album.songs[0]?.region, out: secondsToTicks(5), sound: NO_TREATMENT };
    const limiter = { drive: 9, ceiling: 0, release: 30 };
    const room = {
      kind: 'room',
      part: {
        ...{ kind: 'part', endPause: 0, sound: { ...NO_ALBUM_TREATMENT, limiter } },
        songs: [{ id: 't', region }],
      },
      limiter,
      moments: [{ start: secondsToTicks(3), end: secondsToTicks(6) }],
      coded: [{ name: 'shop', coding: 'opus', rate: 48_000, bitrate: 32, quality: null }],
    };
    interface Told {
      figures: RoomFigures | null;
      job?: { state: string };
    }
    const first = (await harness.call<Told>('POST', `/albums/${id}/room`, room)).body;
    expect(first).toMatchObject({ figures: null, job: { state: 'queued' } });
    await harness.work();
    const { figures } = (await harness.call<Told>('POST', `/albums/${id}/room`, room)).body;
    // A tone of −7.96 + 9 dBFS, limited to 0 dBTP.
    expect(figures?.now[0]?.before).toBeCloseTo(0, 1);
    expect(figures?.now[0]?.after).toBeGreaterThan(0);
    expect(figures?.ceiling).toBeLessThan(0);
    expect(figures?.then[0]?.before).toBeCloseTo(figures?.ceiling ?? 9, 1);
    expect(figures?.then[0]?.after).toBeLessThan(0);
  });
});

describe('treatments that are kept', () => {
  it('are saved, listed by name, replaced and forgotten', async () => {
    const save = (name: string, ride: number) =>
      harness.call('PUT', `/treatments/${encodeURIComponent(name)}`, { ...NO_TREATMENT, ride });
    expect((await save('Wärm / ä', -1)).status).toBe(200);
    await save('Air', 2);
    await save('Air', 3);
    const { body } = await harness.call<unknown>('GET', '/treatments');
    expect(body).toMatchObject([
      { name: 'Air', treatment: { ride: 3 } },
      { name: 'Wärm / ä', treatment: { ride: -1 } },
    ]);
    expect((await save('Too much', 99)).status).toBe(400);
    await harness.call('DELETE', '/treatments/Air');
    expect((await harness.call<unknown[]>('GET', '/treatments')).body).toHaveLength(1);
  });
});

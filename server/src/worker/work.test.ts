import { execFileSync } from 'node:child_process';
import { access, mkdir, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { deliverableSchema } from '@oiseau/core';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  albumWithTones,
  deliveriesOf,
  startHarness,
  type AnsweredDelivery,
  type Harness,
} from '../testing/harness.js';
import { claim, enqueue, findJob, heartbeat, recoverDead, requestStop } from '../jobs/job-repository.js';
import { workOnce } from './work.js';

let harness: Harness;
beforeEach(async () => {
  harness = await startHarness();
});
afterEach(() => harness.close());

const deliveries = (id: string): Promise<AnsweredDelivery[]> => deliveriesOf(harness, id);

const exists = (path: string): Promise<boolean> =>
  access(path).then(
    () => true,
    () => false,
  );

describe('the queue', () => {
  it('never gives one job to two workers', async () => {
    const ids = [];
    for (let i = 0; i < 12; i++) ids.push(await enqueue(harness.db, 'render', `subject ${i}`));
    const claimed = await Promise.all(Array.from({ length: 20 }, (_, i) => claim(harness.db, `worker ${i}`)));
    const got = claimed.flatMap((job) => (job ? [job.id] : []));
    expect(got.sort((a, b) => a - b)).toEqual(ids);
  });

  it('takes what is short and waited for before what is long, in the order in which it came', async () => {
    await harness.work();
    const ids = [];
    for (const [kind, subject] of [
      ['render', 'a'],
      ['measure', 'b'],
      ['render', 'c'],
      ['measure', 'd'],
    ] as const)
      ids.push(await enqueue(harness.db, kind, subject));
    const taken = [];
    for (const _ of ids) taken.push((await claim(harness.db, 'worker'))?.id);
    expect(taken).toEqual([ids[1], ids[3], ids[0], ids[2]]);
  });

  it('ends a job of a kind that it does not know with a sentence, and goes on with the next', async () => {
    const id = await enqueue(harness.db, 'render', 'x');
    await harness.db.execute("UPDATE jobs SET kind = 'engrave' WHERE id = ?", [id]);
    await harness.work();
    expect(await findJob(harness.db, id)).toMatchObject({
      state: 'failed',
      message: 'This version of Oiseau does not know how to do “engrave”.',
    });
  });

  it('puts a dead worker’s job back, and gives it up after three tries', async () => {
    const id = await enqueue(harness.db, 'render', 'x');
    for (let attempt = 1; attempt <= 3; attempt++) {
      expect((await claim(harness.db, 'doomed'))?.id).toBe(id);
      await harness.db.execute(
        'UPDATE jobs SET heartbeat_at = UTC_TIMESTAMP(3) - INTERVAL 60 SECOND WHERE id = ?',
        [id],
      );
      await recoverDead(harness.db);
    }
    expect(await findJob(harness.db, id)).toMatchObject({
      state: 'failed',
      message: 'The worker died 3 times over this; it was given up.',
    });
  });

  it('leaves a living worker’s job alone', async () => {
    const id = await enqueue(harness.db, 'render', 'x');
    await claim(harness.db, 'alive');
    expect(await heartbeat(harness.db, id, { share: 0.5, phase: 'render', speed: 9, secondsLeft: 3 })).toBe(
      false,
    );
    await recoverDead(harness.db);
    expect(await findJob(harness.db, id)).toMatchObject({ state: 'running', progress: { share: 0.5 } });
  });

  it('stops a waiting job at once and a running one at its next heartbeat', async () => {
    const first = await enqueue(harness.db, 'render', 'a');
    expect(await requestStop(harness.db, first)).toBe(true);
    expect(await findJob(harness.db, first)).toMatchObject({ state: 'stopped' });
    const second = await enqueue(harness.db, 'render', 'b');
    await claim(harness.db, 'w');
    await requestStop(harness.db, second);
    expect(await heartbeat(harness.db, second, null)).toBe(true);
    expect(await requestStop(harness.db, first)).toBe(false);
  });
});

describe('a render', () => {
  it('goes from a revision to proved files that can be downloaded', async () => {
    const { id } = await albumWithTones(harness, [300, 500]);
    expect((await harness.call('POST', `/albums/${id}/deliveries`, {})).status).toBe(202);
    await harness.work();
    const done = await deliveries(id);
    expect(done.map(({ state, revision, deliverable }) => [state, revision, deliverable.name])).toEqual([
      ['done', 1, 'files'],
      ['done', 1, 'image'],
    ]);
    expect(done.every(({ proof }) => proof?.proved)).toBe(true);
    const image = done[1] as AnsweredDelivery;
    const files = (
      await harness.call<{ path: string; bytes: number }[]>('GET', `/deliveries/${image.id}/files`)
    ).body;
    // 5 + 2 + 5 s from 00:02:00 on: 900 frames of 2,352 bytes, and the header
    expect(files.find(({ path }) => path === 'image.wav')).toEqual({
      path: 'image.wav',
      bytes: 900 * 2352 + 44,
    });
    const wav = await harness.fetch(`/api/deliveries/${image.id}/files/image.wav`);
    expect((await wav.arrayBuffer()).byteLength).toBe(900 * 2352 + 44);
    const outside = await harness.fetch(
      `/api/deliveries/${image.id}/files/${encodeURIComponent('../../../secret')}`,
    );
    expect(outside.status).toBe(404);
  });

  it('gives the same bytes again, and a new number only when something has changed', async () => {
    const { id, version, album } = await albumWithTones(harness, [300]);
    await harness.call('POST', `/albums/${id}/deliveries`, {});
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] });
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, title: 'Renamed' } });
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] });
    await harness.work();
    const images = (await deliveries(id)).filter(({ deliverable }) => deliverable.name === 'image');
    expect(images.map(({ revision }) => revision)).toEqual([2, 1, 1]);
    const sums = images.map(({ proof }) => proof?.files.map(({ sha256 }) => sha256));
    expect(sums[1]).toEqual(sums[2]);
    expect(sums[0]?.[0]).toBe(sums[1]?.[0]);
    expect(sums[0]?.[1]).not.toBe(sums[1]?.[1]);
  });

  it('is refused while the album has errors', async () => {
    const { id } = await albumWithTones(harness, [300], { upc: '123' });
    expect(await harness.call('POST', `/albums/${id}/deliveries`, {})).toMatchObject({
      status: 422,
      body: { error: expect.stringContaining('“123” is no UPC/EAN') },
    });
    expect(await deliveries(id)).toEqual([]);
    expect((await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['nope'] })).status).toBe(
      422,
    );
  });

  it('that is stopped leaves nothing behind and can be asked for again', async () => {
    const { id } = await albumWithTones(harness, [300]);
    await harness.work();
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] });
    const [delivery] = (await deliveries(id)) as [AnsweredDelivery];
    // The wish is there before the first heartbeat, so the render is stopped in its first block.
    await harness.db.execute("UPDATE jobs SET stop_requested = TRUE WHERE kind = 'render'");
    await workOnce(harness.worker);
    expect((await deliveries(id))[0]?.state).toBe('stopped');
    expect(await readdir(harness.media.delivery(delivery.id))).toEqual([]);
    expect((await harness.call('POST', `/deliveries/${delivery.id}/retry`)).status).toBe(202);
    await harness.work();
    expect((await deliveries(id))[0]).toMatchObject({ state: 'done', proof: { proved: true } });
  });

  it('goes back into the queue when its worker leaves', async () => {
    const { id } = await albumWithTones(harness, [300]);
    await harness.work();
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] });
    await workOnce({ ...harness.worker, leaving: () => true });
    expect((await deliveries(id))[0]?.state).toBe('queued');
    await harness.work();
    expect((await deliveries(id))[0]?.state).toBe('done');
  });

  it('says which master is missing', async () => {
    const { id, album } = await albumWithTones(harness, [300]);
    await harness.work();
    await rm(harness.media.file(album.songs[0]?.region.master ?? ''));
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] });
    await harness.work();
    const [failed] = await deliveries(id);
    expect(failed).toMatchObject({
      state: 'failed',
      message: 'The master “300.wav” is missing from the media store.',
    });
    expect(await exists(join(harness.media.delivery(failed?.id ?? ''), 'image'))).toBe(false);
  });

  // A disk of its own, too small for the files, takes a mount: only root may make one.
  it.runIf(process.getuid?.() === 0).each(['cue', 'flac'])(
    'to a full disk (%s) says so, and leaves nothing half-done',
    async (form) => {
      const settings = form === 'cue' ? { kind: 'cue' } : { kind: 'tracks', format: 'flac' };
      const deliverables = [deliverableSchema.parse({ name: 'd', ...settings })];
      const { id } = await albumWithTones(harness, [300, 500], { deliverables });
      await harness.work();
      await harness.call('POST', `/albums/${id}/deliveries`, {});
      const folder = harness.media.delivery((await deliveries(id))[0]?.id ?? '');
      await mkdir(folder, { recursive: true });
      execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=64k', 'tmpfs', folder]);
      try {
        await harness.work();
        expect((await deliveries(id))[0]).toMatchObject({
          state: 'failed',
          message: 'The disk is full; nothing half-done was left. Make room and try again.',
        });
        expect(await readdir(folder)).toEqual([]);
      } finally {
        execFileSync('umount', [folder]);
      }
      // With room again, the same render goes through.
      await harness.call('POST', `/deliveries/${(await deliveries(id))[0]?.id}/retry`);
      await harness.work();
      expect((await deliveries(id))[0]?.proof?.proved).toBe(true);
    },
  );
});

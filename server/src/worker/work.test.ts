import { execFileSync } from 'node:child_process';
import { access, mkdir, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { deliverableSchema } from '@oiseau/album/model';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  albumWithTones,
  deliveriesOf,
  startHarness,
  type AnsweredDelivery,
  type Harness,
} from '../testing/harness.js';
import { isWorkerAlive, machineName } from '../jobs/machine.js';
import { DeadWorkers } from '../jobs/dead-workers.js';
import {
  claim,
  enqueue,
  findJob,
  finish,
  heartbeat,
  release,
  requestStop,
  requeueInterrupted,
  runningJobs,
  takeFromDead,
  type RunningJob,
} from '../jobs/job-repository.js';
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
      message: 'This version of Oiseau has no job “engrave”.',
    });
  });

  /** Looks once a second for so long, by a clock of the test. */
  async function lookFor(seconds: number, dead: DeadWorkers, clock: { ms: number }): Promise<RunningJob[]> {
    const given: RunningJob[] = [];
    for (let i = 0; i < seconds; i++) {
      clock.ms += 1000;
      given.push(...(await dead.look(harness.db)));
    }
    return given;
  }
  function watching(): { dead: DeadWorkers; clock: { ms: number } } {
    const clock = { ms: 0 };
    return { clock, dead: new DeadWorkers(() => clock.ms) };
  }

  it('puts a dead worker’s job back, and gives it up after three tries', async () => {
    const id = await enqueue(harness.db, 'render', 'x');
    const { dead, clock } = watching();
    for (let attempt = 1; attempt <= 3; attempt++) {
      expect(await claim(harness.db, 'doomed')).toMatchObject({ id, claim: attempt });
      const given = await lookFor(17, dead, clock);
      expect(given.map((job) => job.id)).toEqual(attempt === 3 ? [id] : []);
    }
    expect(await findJob(harness.db, id)).toMatchObject({
      state: 'failed',
      message:
        'Its worker was killed or the machine stopped 3 times during this job, so it was given up. Use “Render again”.',
    });
  });

  it('leaves a living worker’s job alone, whatever the clocks say', async () => {
    const id = await enqueue(harness.db, 'render', 'x');
    const job = await claim(harness.db, 'alive');
    const { dead, clock } = watching();
    for (let i = 0; i < 4; i++) {
      await lookFor(10, dead, clock);
      expect(
        await heartbeat(harness.db, job ?? { id, claim: 0 }, {
          share: 0.5,
          phase: 'render',
          speed: 9,
          secondsLeft: 3,
        }),
      ).toBe('go on');
      // The machine's clock is put forward, and who looks was asleep for a night.
      await harness.db.execute(
        'UPDATE jobs SET heartbeat_at = UTC_TIMESTAMP(3) - INTERVAL 1 DAY WHERE id = ?',
        [id],
      );
      clock.ms += 8 * 3600 * 1000;
    }
    expect(await findJob(harness.db, id)).toMatchObject({ state: 'running', progress: { share: 0.5 } });
  });

  it('gives an attempt that was taken over no say any more', async () => {
    const id = await enqueue(harness.db, 'render', 'x');
    const late = (await claim(harness.db, 'asleep')) ?? { id, claim: 0 };
    const { dead, clock } = watching();
    await lookFor(17, dead, clock);
    const second = (await claim(harness.db, 'awake')) ?? { id, claim: 0 };
    expect(second.claim).toBe(late.claim + 1);
    expect(await heartbeat(harness.db, late, null)).toBe('lost');
    expect(await finish(harness.db, late, 'failed', 'late')).toBe(false);
    await release(harness.db, late);
    expect(await findJob(harness.db, id)).toMatchObject({ state: 'running', message: null });
    expect(await finish(harness.db, second, 'done', null)).toBe(true);
  });

  it('begins anew what this machine was at when everything ended, and nothing of another machine', async () => {
    const [mine, other] = [
      await enqueue(harness.db, 'render', 'x'),
      await enqueue(harness.db, 'render', 'y'),
    ];
    await claim(harness.db, 'studio_1:17');
    await claim(harness.db, 'studioX1:18');
    await requeueInterrupted(harness.db, 'studio_1', () => false);
    expect(await findJob(harness.db, mine)).toMatchObject({ state: 'queued' });
    expect(await findJob(harness.db, other)).toMatchObject({ state: 'running' });
  });

  it('leaves the job of a worker that outlived the server alone', async () => {
    const kept = await enqueue(harness.db, 'render', 'z');
    await claim(harness.db, 'studio_1:19');
    const asked: string[] = [];
    await requeueInterrupted(harness.db, 'studio_1', (worker) => {
      asked.push(worker);
      return true;
    });
    expect(asked).toContain('studio_1:19');
    expect(await findJob(harness.db, kept)).toMatchObject({ state: 'running' });
    // This process runs, and is no worker; no process has the last number.
    expect(isWorkerAlive(`${machineName()}:${process.pid}`)).toBe(false);
    expect(isWorkerAlive(`${machineName()}:999999999`)).toBe(false);
  });

  it('stops a waiting job at once and a running one at its next heartbeat', async () => {
    const first = await enqueue(harness.db, 'render', 'a');
    expect(await requestStop(harness.db, first)).toBe(true);
    expect(await findJob(harness.db, first)).toMatchObject({ state: 'stopped' });
    const second = await enqueue(harness.db, 'render', 'b');
    const job = await claim(harness.db, 'w');
    await requestStop(harness.db, second);
    expect(await heartbeat(harness.db, job ?? { id: second, claim: 0 }, null)).toBe('stop');
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
      body: { error: expect.stringContaining('“123” isn’t a valid UPC/EAN') },
    });
    expect(await deliveries(id)).toEqual([]);
    expect((await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['nope'] })).status).toBe(
      404,
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

  it('has one owner: a worker that was asleep gives up silently, and its successor’s files stand', async () => {
    const { id } = await albumWithTones(harness, [300, 500]);
    await harness.work();
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] });
    const [delivery] = (await deliveries(id)) as [AnsweredDelivery];
    // The first worker falls asleep in its first block, is taken for dead, and wakes up when the second has ended.
    const asleep = workOnce({
      ...harness.worker,
      name: 'asleep',
      media: new Proxy(harness.media, {
        get: (media, name) =>
          name !== 'demandRoom'
            ? (Reflect.get(media, name) as unknown)
            : async () => {
                const [running] = await runningJobs(harness.db);
                if (running) await takeFromDead(harness.db, running);
                await workOnce({ ...harness.worker, name: 'awake' });
              },
      }),
    });
    await asleep;
    const folder = harness.media.delivery(delivery.id);
    expect((await deliveries(id))[0]).toMatchObject({
      state: 'done',
      message: null,
      proof: { proved: true },
    });
    const [attempt, ...others] = await readdir(folder);
    expect(others).toEqual([]);
    expect(attempt).toMatch(/^\d+-2$/);
    const wav = await harness.fetch(`/api/deliveries/${delivery.id}/files/image.wav`);
    expect(wav.status).toBe(200);
  });

  it('that is given up leaves nothing behind', async () => {
    const { id } = await albumWithTones(harness, [300]);
    await harness.work();
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] });
    const [delivery] = (await deliveries(id)) as [AnsweredDelivery];
    const clock = { ms: 0 };
    const dead = new DeadWorkers(() => clock.ms);
    for (let attempt = 1; attempt <= 3; attempt++) {
      const job = await claim(harness.db, 'killed');
      const half = join(harness.media.delivery(delivery.id), `${job?.id}-${job?.claim}`, '.image.partial');
      await mkdir(half, { recursive: true });
      for (let i = 0; i < 17; i++) {
        clock.ms += 1000;
        await workOnce({ ...harness.worker, dead, leaving: () => true });
      }
    }
    expect((await deliveries(id))[0]?.state).toBe('failed');
    expect(await readdir(harness.media.delivery(delivery.id))).toEqual([]);
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
      message: 'The master “300.wav” is missing from the media store. Add the same file again to repair it.',
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
          message: 'The disk is full. Incomplete files were removed. Free some space and try again.',
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

import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { HandoverRecord } from '@oiseau/api';
import { deliverableSchema } from '@oiseau/album/model';
import { startStandins } from '@oiseau/standins';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { requeueInterrupted } from '../jobs/job-repository.js';
import { machineName } from '../jobs/machine.js';
import { recogniseStore } from '../media/store-id.js';
import { albumWithTones, deliveriesOf, startHarness, type Harness } from '../testing/harness.js';
import { noteStandIns } from './stand-ins.js';

let harness: Harness;
let folder: string;
let standins: Awaited<ReturnType<typeof startStandins>>;
beforeAll(async () => {
  harness = await startHarness();
  expect(await recogniseStore(harness.db, harness.media)).toBeNull();
  folder = await mkdtemp(join(tmpdir(), 'oiseau-kills-'));
  standins = await startStandins(folder, 2);
  await noteStandIns(harness.db, join(folder, 'receivers.json'));
});
afterAll(async () => {
  await standins.close();
  await harness.close();
  await rm(folder, { recursive: true, force: true });
});

const KILLS = Number(process.env.OISEAU_TEST_KILLS ?? 10);
/** How long a delivery worker may take to start and send something, ms. */
const MOST_WAIT_MS = 5000;

/** Waits until something holds, or the time is over. */
async function until(holds: () => Promise<boolean>, mostMs: number): Promise<void> {
  for (const end = performance.now() + mostMs; performance.now() < end; await sleep(20))
    if (await holds()) return;
}

/** The courier as the application runs it: a process of its own. */
function startCourier() {
  const { socketPath = '', user } = inject('database');
  return spawn(process.execPath, ['dist/worker.mjs'], {
    env: {
      ...process.env,
      ...{
        OISEAU_DATA: folder,
        OISEAU_MEDIA: harness.media.root,
        OISEAU_ROLE: 'courier',
        OISEAU_LOG: 'error',
      },
      ...{ OISEAU_DB_SOCKET: socketPath, OISEAU_DB_USER: user, OISEAU_DB_SECRET: join(folder, 'secret') },
      ...{ OISEAU_DB_NAME: harness.database },
    },
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
}

it(`loses nothing and sends nothing twice when who sends is killed ${KILLS} times in the middle`, async () => {
  await writeFile(join(folder, 'secret'), inject('database').password);
  const { id, version, album } = await albumWithTones(harness, [440, 550, 660]);
  const deliverables = [deliverableSchema.parse({ name: 'plant', kind: 'ddp' })];
  await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, deliverables } });
  await harness.call('POST', `/albums/${id}/deliveries`, { by: 'Ada' });
  await harness.work();
  const [delivery] = await deliveriesOf(harness, id);
  const { url, token } = standins.standins.find(({ kind }) => kind === 'plant') ?? { url: '', token: '' };
  const behave = async (mode: string): Promise<void> => {
    const headers = { Authorization: `Bearer ${token}`, 'Content-Type': 'application/json' };
    await fetch(`${url}/behaviour`, { method: 'PUT', headers, body: JSON.stringify({ mode }) });
  };
  await behave('slow');
  const receiver = '00000000-0000-4000-8000-000000000002';
  const path = `/deliveries/${delivery?.id}/handovers`;
  const handover = (await harness.call<{ id: string }>('POST', path, { receiver })).body.id;
  const { shipments } = standins.intakes.plant;
  const received = async (): Promise<number> => {
    const shipment = shipments.withReference(handover);
    if (!shipment) return 0;
    const sizes = await Promise.all(shipment.files.map((_, place) => shipments.received(shipment, place)));
    return sizes.reduce((a, b) => a + b, 0);
  };
  let grown = 0;
  for (let kill = 0; kill < KILLS; kill++) {
    const before = await received();
    const courier = startCourier();
    // Every other time once something has arrived, so that it does get on; else at whatever moment: while it starts, announces, sends,
    // completes or asks.
    if (kill % 2 === 0) await until(async () => (await received()) > before, MOST_WAIT_MS);
    await sleep(Math.random() * (kill % 2 === 0 ? 400 : 2000));
    courier.kill('SIGKILL');
    await once(courier, 'exit');
    const after = await received();
    expect(after).toBeGreaterThanOrEqual(before);
    if (after > before) grown++;
    // What the next start does.
    await requeueInterrupted(harness.db, machineName(), () => false);
  }
  expect(grown).toBeGreaterThan(3);
  await behave('none');
  await harness.work();
  const { body } = await harness.call<HandoverRecord[]>('GET', `/albums/${id}/handovers`);
  expect(body).toMatchObject([
    {
      id: handover,
      state: 'done',
      told: { state: expect.stringMatching(/checked|in-production|shipped/) as string },
    },
  ]);
  const got = shipments.all().filter(({ reference }) => reference === handover);
  expect(got.length).toBe(1);
  expect(await Promise.all(got.map((shipment) => shipments.faults(shipment)))).toEqual([[]]);
}, 180_000);

import { createHash } from 'node:crypto';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Intake } from './intake.js';

let folder: string;
let intake: Intake;
let server: Awaited<ReturnType<Intake['listen']>>;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-intake-'));
  intake = new Intake({
    ...{ token: 'key', folder, paceMs: 1 },
    receiver: () => ({
      ...{ kind: 'plant', name: 'Plant', about: () => ({}), final: ['received'] },
      work: () => Promise.resolve(),
    }),
  });
  server = await intake.listen();
});
afterAll(async () => {
  await server.close();
  await rm(folder, { recursive: true, force: true });
});

const ask = (method: string, path: string, body?: unknown): Promise<Response> =>
  fetch(`${server.url}${path}`, {
    method,
    headers: { Authorization: 'Bearer key', 'Content-Type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });

it('lets one write to a file at a time: who goes on with it ends the line of before', async () => {
  const bytes = Buffer.from(Uint8Array.from({ length: 400_000 }, (_, i) => (i * 7919) >> 3));
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const told = { reference: 'r', files: [{ path: 'a.bin', bytes: bytes.length, sha256 }] };
  const { id } = (await (await ask('POST', '/shipments', told)).json()) as { id: string };
  const send = (from: number): Promise<Response> =>
    fetch(`${server.url}/shipments/${id}/files/0`, {
      method: 'PATCH',
      headers: { Authorization: 'Bearer key', 'Upload-Offset': String(from) },
      body: bytes.subarray(from),
    });
  const received = async (): Promise<number> => {
    const { files } = (await (await ask('GET', `/shipments/${id}`)).json()) as {
      files: { received: number }[];
    };
    return files[0]?.received ?? 0;
  };
  await ask('PUT', '/behaviour', { mode: 'slow' });
  // The line that is thought to be lost, and still sends.
  const lost = send(0).catch(() => null);
  while ((await received()) === 0) await sleep(10);
  let answer: Response;
  let from = await received();
  do {
    answer = await send(from);
    const { received: now } = (await answer.json()) as { received: number };
    from = now;
  } while (!answer.ok);
  await lost;
  expect(from).toBe(bytes.length);
  const shipment = intake.shipments.find(id);
  if (!shipment) throw new Error('It is known.');
  expect((await readFile(intake.shipments.path(shipment, 0))).equals(bytes)).toBe(true);
  expect(await intake.shipments.faults(shipment)).toEqual([]);
});

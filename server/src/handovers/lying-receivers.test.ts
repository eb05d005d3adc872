import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { HandoverRecord, ReceiverRecord } from '@oiseau/api';
import { deliverableSchema } from '@oiseau/album/model';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, deliveriesOf, startHarness, type Harness } from '../testing/harness.js';

let harness: Harness;
let album: string;
let delivery: string;
let server: Server | undefined;
beforeAll(async () => {
  harness = await startHarness();
  ({ id: album } = await albumWithTones(harness, [721], {
    deliverables: [deliverableSchema.parse({ name: 'plant', kind: 'ddp' })],
  }));
  await harness.call('POST', `/albums/${album}/deliveries`, {});
  await harness.work();
  delivery = (await deliveriesOf(harness, album))[0]?.id ?? '';
});
afterEach(() => {
  server?.closeAllConnections();
  server?.close();
});
afterAll(() => harness.close());

interface Announced {
  files: { path: string; bytes: number }[];
}

/** A plant that answers as it likes. @param answer the whole answer to a request, as text */
async function deliverTo(
  answer: (method: string, path: string, announced: Announced) => string,
): Promise<HandoverRecord> {
  let announced: Announced = { files: [] };
  server = createServer((request: IncomingMessage, response: ServerResponse) => {
    const parts: Buffer[] = [];
    request.on('data', (part: Buffer) => parts.push(part));
    request.on('end', () => {
      if (request.url === '/shipments') announced = JSON.parse(Buffer.concat(parts).toString()) as Announced;
      response.setHeader('Content-Type', 'application/json');
      response.end(answer(request.method ?? '', request.url ?? '', announced));
    });
  });
  await new Promise<void>((resolve) => server?.listen(0, '127.0.0.1', resolve));
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const { body } = await harness.call<ReceiverRecord>('POST', '/receivers', {
    ...{ kind: 'plant', name: 'Liar', url, token: 'token' },
  });
  const made = await harness.call('POST', `/deliveries/${delivery}/handovers`, { receiver: body.id });
  expect(made.status).toBeLessThan(300);
  await harness.work();
  const [newest] = (await harness.call<HandoverRecord[]>('GET', `/albums/${album}/handovers`)).body;
  if (!newest) throw new Error('no hand-over');
  return newest;
}

/** A shipment as the protocol has it. */
const shipment = ({ files }: Announced, more: object = {}): string =>
  JSON.stringify({
    ...{ id: 's', state: 'receiving', reasons: [], receipt: null, progress: 0, final: false },
    files: files.map((file) => ({ ...file, received: 0 })),
    ...more,
  });

describe('a receiver that lies', () => {
  it('that always has nothing is not sent to forever', async () => {
    let sent = 0;
    const handover = await deliverTo((method, _path, announced) => {
      if (method !== 'PATCH') return shipment(announced);
      sent++;
      return '{"received":0}';
    });
    expect(handover).toMatchObject({ state: 'failed' });
    expect(handover.message).toMatch(/^The recipient makes no progress: it stays at 0 bytes of/);
    expect(sent).toBe(8);
  });

  it('that has more than there is is not believed', async () => {
    const handover = await deliverTo((method, _path, announced) =>
      method === 'PATCH' ? '{"received":999999999999}' : shipment(announced),
    );
    expect(handover.message).toMatch(/^The recipient reports 999999999999 bytes of “.*”, which has \d+\.$/);
  });

  it.each([
    ['19 MB of small lists', () => `{"id":"s","x":[${'[],'.repeat(6_000_000)}[]]}`, 'too long'],
    [
      'an 18 MB receipt',
      (told: Announced) => shipment(told, { receipt: { text: 'x'.repeat(18_000_000) } }),
      'too long',
    ],
    ['lists in lists', () => `${'['.repeat(20_000)}${']'.repeat(20_000)}`, 'nested too deeply'],
    [
      'a thousand reasons',
      (told: Announced) =>
        shipment(told, { reasons: Array.from({ length: 1000 }, () => ({ code: 'c', message: 'm' })) }),
      'can’t be read: reasons',
    ],
  ])('that answers %s is refused with a sentence', async (_called, answer, words) => {
    const handover = await deliverTo((_method, _path, announced) => answer(announced));
    expect(handover).toMatchObject({ state: 'failed', message: expect.stringContaining(words) as string });
  });
});

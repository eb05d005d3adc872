import { createHash } from 'node:crypto';
import { appendFile, rm, truncate } from 'node:fs/promises';
import { join } from 'node:path';
import { deliverableSchema } from '@oiseau/album/model';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import {
  albumWithTones,
  deliveriesOf,
  renderedFolder,
  startHarness,
  type AnsweredDelivery,
  type Harness,
} from '../testing/harness.js';

const sumOf = (bytes: Uint8Array | undefined): string =>
  createHash('sha256')
    .update(bytes ?? '')
    .digest('hex');
const text = (bytes: Uint8Array | undefined): string => Buffer.from(bytes ?? []).toString('utf8');

let harness: Harness;
let albumId: string;
let masters: string[];
let delivery: AnsweredDelivery;
let folder: string;
beforeAll(async () => {
  harness = await startHarness();
  const deliverables = [deliverableSchema.parse({ name: 'Tracks', kind: 'tracks' })];
  const { id, album } = await albumWithTones(harness, [440, 550], { deliverables });
  albumId = id;
  masters = album.songs.map(({ region }) => region.master);
  await harness.call('POST', `/albums/${id}/deliveries`, {});
  await harness.work();
  delivery = (await deliveriesOf(harness, id))[0] as AnsweredDelivery;
  folder = await renderedFolder(harness, delivery);
});
afterAll(() => harness.close());

const get = async (path: string, method = 'GET'): Promise<{ status: number; error: string }> => {
  const response = await harness.fetch(`/api${path}`, { method });
  const text = await response.text();
  const error = response.ok || text === '' ? '' : (JSON.parse(text) as { error: string }).error;
  return { status: response.status, error };
};
const zip = (): string => `/deliveries/${delivery.id}/zip`;
const downloads = async (): Promise<number> => {
  const { body } = await harness.call<{ what: string }[]>('GET', '/events');
  return body.filter(({ what }) => what === 'downloaded').length;
};

it('a download that is only asked about sends nothing, and stands in no event', async () => {
  const before = await downloads();
  const file = `/deliveries/${delivery.id}/files/${encodeURIComponent(delivery.proof?.files[0]?.path ?? '')}`;
  for (const path of [zip(), file, `/albums/${albumId}/bundle`])
    expect(await get(path, 'HEAD')).toEqual({ status: 200, error: '' });
  expect(await downloads()).toBe(before);
  expect((await get(zip())).status).toBe(200);
  expect(await downloads()).toBe(before + 1);
});

it('a file that is cut, longer or missing is named before the first byte of a ZIP goes out', async () => {
  const [first, second] = delivery.proof?.files ?? [];
  const path = join(folder, first?.path ?? '');
  await appendFile(path, 'x');
  const longer = `Nothing was sent: “${first?.path}” has ${(first?.bytes ?? 0) + 1} bytes instead of ${first?.bytes}.`;
  expect(await get(zip())).toEqual({ status: 409, error: longer });
  expect((await get(zip(), 'HEAD')).status).toBe(409);
  await truncate(path, first?.bytes ?? 0);
  expect((await get(zip())).status).toBe(200);
  await truncate(path, 10);
  await rm(join(folder, second?.path ?? ''));
  const cut = `Nothing was sent: “${first?.path}” has 10 bytes instead of ${first?.bytes}, and 1 more file is not whole.`;
  expect(await get(zip())).toEqual({ status: 409, error: cut });
  expect(await get(`/deliveries/${delivery.id}/files`)).toEqual({ status: 409, error: cut });
  expect(
    (await get(`/deliveries/${delivery.id}/listen/${encodeURIComponent(second?.path ?? '')}`)).status,
  ).toBe(409);
});

it('so is a master of an album that leaves with its masters', async () => {
  await rm(harness.media.file(masters[1] ?? ''));
  expect(await get(`/albums/${albumId}/bundle`)).toEqual({
    status: 409,
    error: 'Nothing was sent: “550.wav” is missing.',
  });
});

it('one part of several comes as a ZIP of its own', async () => {
  const { id, version, album } = await albumWithTones(harness, [660, 770], {
    deliverables: [deliverableSchema.parse({ name: 'Parted', kind: 'tracks' })],
  });
  const parts = album.songs.map(({ id: first }) => ({
    ...{ medium: 'cd' as const, first, title: '', upc: '', limit: null },
  }));
  await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, parts } });
  await harness.call('POST', `/albums/${id}/deliveries`, {});
  await harness.work();
  const [parted] = await deliveriesOf(harness, id);
  const inside = async (query: string): Promise<Record<string, Uint8Array>> => {
    const response = await harness.fetch(`/api/deliveries/${parted?.id}/zip${query}`);
    return unzipSync(new Uint8Array(await response.arrayBuffer()));
  };
  const whole = await inside('');
  expect(Object.keys(whole).sort()).toEqual([
    ...['Parted/SHA256SUMS', 'Parted/disc-1/01 Tone 660.wav', 'Parted/disc-2/01 Tone 770.wav'],
    'Parted/proof.json',
  ]);
  const second = await inside('?part=disc-2');
  expect(Object.keys(second).sort()).toEqual([
    ...['Parted/SHA256SUMS', 'Parted/disc-2/01 Tone 770.wav', 'Parted/proof.json'],
  ]);
  // Its list of sums is of what is in it.
  const sum = sumOf(second['Parted/disc-2/01 Tone 770.wav']);
  expect(text(second['Parted/SHA256SUMS'])).toBe(`${sum}  disc-2/01 Tone 770.wav\n`);
  expect((await harness.fetch(`/api/deliveries/${parted?.id}/zip?part=disc-3`)).status).toBe(404);
});

it('the ZIP of a disc description has its PQ sheets, for print and as text, and sums of them', async () => {
  const { id } = await albumWithTones(harness, [880], {
    deliverables: [deliverableSchema.parse({ name: 'plant', kind: 'ddp' })],
  });
  await harness.call('POST', `/albums/${id}/deliveries`, {});
  await harness.work();
  const [plant] = await deliveriesOf(harness, id);
  const zip = async (): Promise<Record<string, Uint8Array>> => {
    const response = await harness.fetch(`/api/deliveries/${plant?.id}/zip`);
    return unzipSync(new Uint8Array(await response.arrayBuffer()));
  };
  const inside = await zip();
  const sheet = text(inside['plant/pq-sheet.txt']);
  // Two seconds of pause, five of sound.
  expect(sheet).toContain('01    00    00:00:00  00:02:00  pause');
  expect(sheet).toMatch(/^01 {4}01 {4}00:02:00 {2}00:05:00 .*Tone 880$/m);
  expect(sheet).toContain('AA    01    00:07:00');
  expect(text(inside['plant/pq-sheet.pdf']).slice(0, 5)).toBe('%PDF-');
  const sums = text(inside['plant/SHA256SUMS']).trimEnd().split('\n');
  const listed = Object.keys(inside).filter((name) => !/SHA256SUMS|proof\.json/.test(name));
  expect(sums.sort()).toEqual(listed.map((name) => `${sumOf(inside[name])}  ${name.slice(6)}`).sort());
  // The folder itself has none of them, and a second ZIP is the same.
  expect(plant?.proof?.files.map(({ path }) => path)).not.toContain('pq-sheet.pdf');
  expect(await zip()).toEqual(inside);
});

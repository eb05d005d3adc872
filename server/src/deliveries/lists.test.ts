import { deliverableSchema } from '@oiseau/album/model';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { albumWithTones, deliveriesOf, startHarness, type Harness } from '../testing/harness.js';

let harness: Harness;
beforeEach(async () => {
  harness = await startHarness();
});
afterEach(() => harness.close());

interface Listed {
  readonly id: string;
  readonly attempt: string;
  readonly proof: object | null;
  readonly proofKnown: boolean;
}
const PLANT = deliverableSchema.parse({ name: 'plant', kind: 'ddp' });

describe('proofs of a list', () => {
  it('are left out where whoever asks has them, and come again when they are others', async () => {
    const { id } = await albumWithTones(harness, [300], { deliverables: [PLANT] });
    await harness.call('POST', `/albums/${id}/deliveries`, {});
    await harness.work();
    const list = async (known: string): Promise<Listed | undefined> =>
      (await harness.call<Listed[]>('GET', `/albums/${id}/deliveries?known=${known}`)).body[0];
    const first = await list('');
    expect(first).toMatchObject({ proofKnown: false, proof: { proved: true } });
    expect(first?.attempt).toMatch(/^\d+-\d+$/);
    expect(await list(`7-7,${first?.attempt}`)).toMatchObject({ proofKnown: true, proof: null });
    expect(await list('7-7')).toMatchObject({ proofKnown: false, proof: { proved: true } });
    await harness.call('POST', `/deliveries/${first?.id}/retry`);
    await harness.work();
    expect(await list(first?.attempt ?? '')).toMatchObject({ proofKnown: false, proof: { proved: true } });
    expect((await harness.call('GET', `/albums/${id}/deliveries?known=%27`)).status).toBe(400);
  });
});

describe('the queue of all albums', () => {
  it('tells what waits in the order in which it is done, of the albums that a key opens', async () => {
    const one = await albumWithTones(harness, [300], { title: 'One', deliverables: [PLANT] });
    const two = await albumWithTones(harness, [400], { title: 'Two', deliverables: [PLANT] });
    for (const { id } of [one, two]) await harness.call('POST', `/albums/${id}/deliveries`, { by: 'Ada' });
    const queue = async () =>
      (await harness.call<{ id: string; title: string; askedBy: string }[]>('GET', '/renders')).body;
    expect((await queue()).map(({ title, askedBy }) => [title, askedBy])).toEqual([
      ['One', 'Ada'],
      ['Two', 'Ada'],
    ]);
    const second = (await deliveriesOf(harness, two.id))[0];
    await harness.call('POST', `/deliveries/${second?.id}/first`);
    expect((await queue()).map(({ title }) => title)).toEqual(['Two', 'One']);
    await harness.work();
    expect(await queue()).toEqual([]);
  });
});

describe('several albums in one ZIP', () => {
  it('have a folder each, with its album file and masters, and names that differ', async () => {
    const one = await albumWithTones(harness, [300], { title: 'Ebb' });
    const two = await albumWithTones(harness, [400], { title: 'Ebb' });
    const zip = async (albums: string): Promise<Response> => harness.fetch(`/api/bundles?albums=${albums}`);
    const files = unzipSync(new Uint8Array(await (await zip(`${one.id},${two.id},${one.id}`)).arrayBuffer()));
    const folders = [...new Set(Object.keys(files).map((path) => path.split('/')[0]))];
    expect(folders.sort()).toEqual(['Ebb', 'Ebb (2)']);
    for (const folder of folders) {
      const file = JSON.parse(Buffer.from(files[`${folder}/album.json`] ?? []).toString()) as {
        tracks: { master: string }[];
      };
      expect(files).toHaveProperty([`${folder}/${file.tracks[0]?.master}`]);
    }
    expect((await zip(`${one.id},nobody`)).status).toBe(404);
    expect((await zip('')).status).toBe(400);
  });
});

describe('small copies of pictures', () => {
  it('are JPEGs of a size that is known, and the picture itself stays as it is', async () => {
    const png = await sharp({ create: { width: 900, height: 600, channels: 3, background: '#246' } })
      .png()
      .toBuffer();
    const { sha256 } = (await harness.send<{ sha256: string }>('/pictures?name=c.png', new Uint8Array(png)))
      .body;
    const get = (query: string): Promise<Response> => harness.fetch(`/api/pictures/${sha256}${query}`);
    const small = await get('?pixels=400');
    expect(small.headers.get('content-type')).toBe('image/jpeg');
    const { width, height, format } = await sharp(Buffer.from(await small.arrayBuffer())).metadata();
    expect([width, height, format]).toEqual([400, 267, 'jpeg']);
    expect(Buffer.from(await (await get('')).arrayBuffer()).equals(png)).toBe(true);
    expect((await get('?pixels=5000')).status).toBe(400);
  });
});

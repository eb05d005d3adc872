import sharp from 'sharp';
import { afterEach, beforeEach, expect, it } from 'vitest';
import {
  albumWithTones,
  deliveriesOf,
  renderedFolder,
  startHarness,
  type Harness,
} from '../testing/harness.js';
import { join } from 'node:path';
import { decodeFile } from '@oiseau/host';
import { deliverableSchema } from '@oiseau/album/model';

let harness: Harness;
beforeEach(async () => {
  harness = await startHarness();
});
afterEach(() => harness.close());

/** A picture of one colour, sent as a cover. */
async function cover(width: number, height: number): Promise<string> {
  const picture = sharp({ create: { width, height, channels: 4, background: '#28609080' } }).png();
  const { body } = await harness.send<{ sha256: string }>(
    '/pictures?name=c.png',
    new Uint8Array(await picture.toBuffer()),
  );
  return body.sha256;
}

it('a cover’s size, colours and weight are told for the checks', async () => {
  const sha256 = await cover(1500, 900);
  const { body } = await harness.call('GET', `/pictures/${sha256}/facts`);
  expect(body).toMatchObject({ width: 1500, height: 900, format: 'png', space: 'srgb', hasAlpha: true });
  expect((await harness.call('GET', `/pictures/${'0'.repeat(64)}/facts`)).status).toBe(404);
});

it('a scaled copy of the cover is in every file that has a place for one', async () => {
  const artwork = await cover(2000, 2000);
  const deliverables = ['flac', 'mp3', 'm4a', 'opus'].map((format) =>
    deliverableSchema.parse({ name: format, kind: 'tracks', format, pattern: '{number}' }),
  );
  const { id } = await albumWithTones(harness, [300], { artwork, deliverables });
  await harness.call('POST', `/albums/${id}/deliveries`, {});
  await harness.work();
  for (const delivery of await deliveriesOf(harness, id)) {
    const { deliverable, proof } = delivery;
    expect(proof?.proved).toBe(true);
    const path = join(await renderedFolder(harness, delivery), `01.${deliverable.name}`);
    expect([deliverable.name, (await decodeFile(path)).hasPicture]).toEqual([deliverable.name, true]);
  }
});

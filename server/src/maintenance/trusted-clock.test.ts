import { afterEach, beforeEach, expect, it } from 'vitest';
import { albumWithTones, startHarness, type Harness } from '../testing/harness.js';
import { keepHouse } from './housekeeping.js';
import { Uploads } from '../media/uploads.js';
import { trustedNow } from './trusted-clock.js';

let harness: Harness;
beforeEach(async () => {
  harness = await startHarness();
});
afterEach(() => harness.close());

const DAY = 24 * 3600_000;

it('a clock that goes on is believed; one that jumps is followed two days at a time', async () => {
  const start = Date.now();
  expect(await trustedNow(harness.db, start)).toBe(start);
  expect(await trustedNow(harness.db, start + DAY)).toBe(start + DAY);
  expect(await trustedNow(harness.db, start + 400 * DAY)).toBe(start + 3 * DAY);
  expect(await trustedNow(harness.db, start + 400 * DAY + 1000)).toBe(start + 3 * DAY + 1000);
  // Set right again: what it said meanwhile does not count.
  expect(await trustedNow(harness.db, start + 2 * DAY)).toBe(start + 2 * DAY);
  expect(await trustedNow(harness.db, start + 2.5 * DAY)).toBe(start + 2.5 * DAY);
});

it('a clock 400 days ahead at the first start of this version empties no bin', async () => {
  const { id } = await albumWithTones(harness, [711]);
  await harness.call('DELETE', `/albums/${id}`);
  const { db, media } = harness;
  const clean = async (now: number) =>
    keepHouse({ db, media, uploads: new Uploads(media) }, await trustedNow(db, now));
  await clean(Date.now() + 400 * DAY);
  await clean(Date.now() + 400 * DAY + 3600_000);
  expect((await harness.call('POST', `/albums/${id}/restore`)).status).toBe(204);
});

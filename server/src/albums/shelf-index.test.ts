import type { ShelfEntry } from '@oiseau/api';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { computeHere } from '../compute/pools.js';
import { albumWithTones, startHarness, type Harness } from '../testing/harness.js';
import { ShelfIndex } from './shelf-index.js';

let harness: Harness;
beforeEach(async () => {
  harness = await startHarness();
});
afterEach(() => harness.close());

/** Copies of an album, as an upgrade finds them: never indexed. */
async function copies(count: number): Promise<void> {
  const { id } = await albumWithTones(harness, [731]);
  await harness.db.execute(
    `INSERT INTO albums (id, document, version, created_at, updated_at)
     SELECT UUID(), document, 1, created_at, updated_at - INTERVAL seq SECOND FROM albums JOIN seq_1_to_${count} WHERE id = ?`,
    [id],
  );
}
interface Shelf {
  albums: ShelfEntry[];
  total: number;
  indexing: number;
}
const shelf = async (): Promise<Shelf> => (await harness.call<Shelf>('GET', '/albums?limit=200')).body;

describe('the index of the Shelf', () => {
  it('is made in the background, once, and the Shelf has every title meanwhile', async () => {
    await copies(150);
    let batches = 0;
    const slow = {
      listings: async (...given: Parameters<typeof computeHere.listings>) => {
        batches++;
        await new Promise((resolve) => setTimeout(resolve, 50));
        return computeHere.listings(...given);
      },
    };
    const index = new ShelfIndex(harness.db, slow);
    // Two that ask share one run, and neither waits for all of it.
    await Promise.all([index.refresh(60), index.refresh(60)]);
    expect(await index.remaining()).toBeGreaterThan(0);
    const { albums } = (await harness.call<Shelf>('GET', '/albums?limit=200')).body;
    expect(albums.every(({ title }) => title === 'Nine Tides')).toBe(true);
    await index.refresh(Infinity);
    expect(await index.remaining()).toBe(0);
    // 151 albums in batches of 20; what the other index did meanwhile is not done again.
    expect(batches).toBeLessThanOrEqual(9);
    expect(await shelf()).toMatchObject({ total: 151, indexing: 0 });
    expect((await shelf()).albums.every(({ tracks, frames }) => tracks === 1 && frames > 0)).toBe(true);
  });

  it('goes on where one album fails, and tries again where the threads did', async () => {
    await copies(3);
    let fails = true;
    const index = new ShelfIndex(harness.db, {
      listings: (...given) => {
        if (fails) throw new Error('out of memory');
        return computeHere.listings(...given);
      },
    });
    await index.refresh(100);
    expect(await index.remaining()).toBe(4);
    fails = false;
    await index.refresh(Infinity);
    expect(await index.remaining()).toBe(0);
  });

  it('does not overwrite what was saved while it was made', async () => {
    const { id, version, album } = await albumWithTones(harness, [732]);
    const index = new ShelfIndex(harness.db, {
      listings: async (...given) => {
        const listings = await computeHere.listings(...given);
        await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, title: 'Later' } });
        return listings;
      },
    });
    await index.refresh(200);
    expect((await shelf()).albums).toMatchObject([{ title: 'Later' }]);
  });

  it('ends no server whose table of albums is damaged', async () => {
    const index = new ShelfIndex(harness.db, computeHere);
    await harness.db.execute('RENAME TABLE albums TO albums_away');
    try {
      await expect(index.refresh()).rejects.toThrow(/albums/);
      await expect(index.refreshUnasked()).resolves.toBeUndefined();
    } finally {
      await harness.db.execute('RENAME TABLE albums_away TO albums');
    }
  });
});

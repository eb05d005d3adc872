import { mkdir, readdir, rename, rm, writeFile } from 'node:fs/promises';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { albumWithTones, startHarness, toneFile, type Harness } from '../testing/harness.js';
import { MediaStore } from './media-store.js';
import { recogniseStore, troubleOfStore } from './store-id.js';

let harness: Harness;
let away: string;
beforeEach(async () => {
  harness = await startHarness();
  expect(await recogniseStore(harness.db, harness.media)).toBeNull();
  away = `${harness.media.root}.away`;
});
afterEach(async () => {
  await rm(away, { recursive: true, force: true });
  await harness.close();
});

/** The store as a server finds it that starts now. */
const atStart = async () => {
  const media = new MediaStore(harness.media.root, 0);
  return { media, trouble: await recogniseStore(harness.db, media) };
};

describe('a media store whose share is not mounted', () => {
  it('at the start is not replaced by an empty folder, and is recognised when it is back', async () => {
    await albumWithTones(harness, [701]);
    const { root } = harness.media;
    await rename(root, away);
    for (const make of [() => Promise.resolve(undefined), () => mkdir(root)]) {
      await make();
      const { media, trouble } = await atStart();
      expect(trouble).toMatch(/^The media store isn’t at .*\. Mount its disk/);
      await expect(media.receive((await import('node:stream')).Readable.from(['x']))).rejects.toThrow(
        'The media store isn’t at',
      );
      expect(await readdir(root).catch(() => [])).toEqual([]);
    }
    await rm(root, { recursive: true });
    await rename(away, root);
    expect((await atStart()).trouble).toBeNull();
  });

  it('while the server runs: imports are refused with the reason, health says it, nothing is made in its place', async () => {
    const { id } = await albumWithTones(harness, [702]);
    const { root } = harness.media;
    await rename(root, away);
    const sent = await harness.send<{ error: string }>(`/albums/${id}/masters?name=x.wav`, toneFile(703, 5));
    expect(sent).toMatchObject({ status: 503, body: { code: 'store-away' } });
    expect(sent.body.error).toMatch(/^The media store isn’t at/);
    const health = await harness.call<{ ok: boolean; troubles: string[] }>('GET', '/health');
    expect(health).toMatchObject({ status: 200, body: { ok: false } });
    expect(health.body.troubles[0]).toMatch(/^The media store isn’t at/);
    const { album } = (
      await harness.call<{ album: { songs: { region: { master: string } }[] } }>('GET', `/albums/${id}`)
    ).body;
    const audio = await harness.fetch(`/api/masters/${album.songs[0]?.region.master}/audio`);
    expect([audio.status, ((await audio.json()) as { code: string }).code]).toEqual([503, 'store-away']);
    expect((await harness.call('GET', '/keeping')).status).toBe(200);
    await expect(readdir(root)).rejects.toThrow('ENOENT');
    await rename(away, root);
    expect((await harness.send(`/albums/${id}/masters?name=x.wav`, toneFile(703, 5))).status).toBe(201);
  });

  it('that is another database’s is never written to', async () => {
    await writeFile(harness.media.markFile, '00000000-0000-4000-8000-000000000000\n');
    expect((await atStart()).trouble).toMatch(/is the media store of a different database/);
    expect((await harness.send('/masters?name=x.wav', toneFile(704, 5))).status).toBe(503);
  });
});

describe('the mark of a media store', () => {
  it.each(['', '0000', '\0\0\0'])(
    'that was emptied or cut is written anew where the files are ours: %j',
    async (text) => {
      await albumWithTones(harness, [705]);
      await writeFile(harness.media.markFile, text);
      expect((await atStart()).trouble).toBeNull();
    },
  );

  it('is the new database’s where a store comes with none', async () => {
    await harness.db.execute('DELETE FROM media_store');
    expect((await atStart()).trouble).toBeNull();
    expect((await atStart()).trouble).toBeNull();
  });
});

describe('a media store that can’t be written to', () => {
  it('lacks a folder, and says so', async () => {
    await rm(`${harness.media.root}/incoming`, { recursive: true });
    expect(await troubleOfStore(harness.media)).toMatch(/can’t be written to: a folder of it is missing\.$/);
  });
});

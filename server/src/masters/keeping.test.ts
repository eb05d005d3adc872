import { execFileSync } from 'node:child_process';
import { readFile, rm, stat, truncate, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deliverableSchema, newSong } from '@oiseau/album/model';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { albumWithTones, deliveriesOf, startHarness, toneFile, type Harness } from '../testing/harness.js';

let harness: Harness;
beforeEach(async () => {
  harness = await startHarness();
});
afterEach(() => harness.close());

const TRACKS = deliverableSchema.parse({ name: 'Tracks', kind: 'tracks' });

/** One bit of a file is another than it was. */
async function rot(path: string, at: number): Promise<void> {
  const bytes = await readFile(path);
  bytes[at] = (bytes[at] ?? 0) ^ 1;
  await writeFile(path, bytes);
}

/** Renders, and tells what became of it. */
async function render(albumId: string): Promise<{ state: string; message: string | null; proved: boolean }> {
  await harness.call('POST', `/albums/${albumId}/deliveries`, {});
  await harness.work();
  const [newest] = await deliveriesOf(harness, albumId);
  return {
    state: newest?.state ?? '',
    message: newest?.message ?? null,
    proved: newest?.proof?.proved ?? false,
  };
}

const bringAgain = (albumId: string, name: string, bytes: Uint8Array<ArrayBuffer>) =>
  harness.send(`/albums/${albumId}/masters?name=${name}`, bytes);

describe('a master whose bytes changed on the disk', () => {
  it.each([
    ['in its head, which sounds in nothing', 30],
    ['in the middle of its audio', 400_000],
    ['in its very last byte', 5 * 4 * 44_100 + 43],
  ])('%s, is not proved, and sounds again after the same file has come again', async (_, at) => {
    const { id, album } = await albumWithTones(harness, [440], { deliverables: [TRACKS] });
    await harness.work();
    const path = harness.media.file(album.songs[0]?.region.master ?? '');
    await rot(path, at);
    expect(await render(id)).toEqual({
      state: 'failed',
      message:
        'The master “440.wav” has changed on disk since it was added. Add the same file again, then render again.',
      proved: false,
    });
    await bringAgain(id, '440.wav', toneFile(440, 5));
    expect(await render(id)).toEqual({ state: 'done', message: null, proved: true });
  });

  it('is found where only a part of it is played', async () => {
    const { id, album, version } = await albumWithTones(harness, [440, 550], { deliverables: [TRACKS] });
    const [first, second] = album.songs;
    // The first without its head and tail, then the second: the end of the first is never asked for.
    const out = 4.75 * 705_600_000;
    const songs = [{ ...first, region: { ...first?.region, in: 0.5 * 705_600_000, out } }, second];
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, songs } });
    await harness.work();
    expect((await render(id)).proved).toBe(true);
    await rot(harness.media.file(first?.region.master ?? ''), 5 * 4 * 44_100);
    expect((await render(id)).state).toBe('failed');
  });

  it('is not measured', async () => {
    const { id, album } = await albumWithTones(harness, [440]);
    await rot(harness.media.file(album.songs[0]?.region.master ?? ''), 1000);
    await harness.work();
    const { body } = await harness.call<{ measurement: unknown; job: { state: string; message: string } }[]>(
      'GET',
      `/albums/${id}/masters`,
    );
    expect(body[0]?.measurement).toBeNull();
    expect(body[0]?.job.message).toMatch(/^This master has changed on disk/);
    await bringAgain(id, '440.wav', toneFile(440, 5));
    await harness.work();
    const after = await harness.call<{ measurement: unknown }[]>('GET', `/albums/${id}/masters`);
    expect(after.body[0]?.measurement).not.toBeNull();
  });
});

it('a master that is lost or cut is named, and is whole after the same file has come again', async () => {
  const { id, album } = await albumWithTones(harness, [440], { deliverables: [TRACKS] });
  await harness.work();
  const path = harness.media.file(album.songs[0]?.region.master ?? '');
  await truncate(path, 1000);
  expect((await render(id)).message).toBe(
    'The master “440.wav” is truncated in the media store: 1000 of 882044 bytes are left. Add the same file again to repair it.',
  );
  await rm(path);
  expect((await render(id)).message).toBe(
    'The master “440.wav” is missing from the media store. Add the same file again to repair it.',
  );
  await bringAgain(id, '440.wav', toneFile(440, 5));
  expect((await render(id)).proved).toBe(true);
});

describe('what was decoded of a coded master', () => {
  async function codedAlbum(): Promise<{ id: string; sha256: string; flac: Uint8Array<ArrayBuffer> }> {
    const wav = join(tmpdir(), `oiseau-${process.pid}.wav`);
    await writeFile(wav, toneFile(440, 5));
    const flac = new Uint8Array(
      execFileSync('ffmpeg', ['-v', 'error', '-i', wav, '-f', 'flac', 'pipe:1'], { maxBuffer: 1e8 }),
    );
    await rm(wav);
    const { id, version, album } = await albumWithTones(harness, []);
    const { body } = await harness.send<{ sha256: string }>(`/albums/${id}/masters?name=tide.flac`, flac);
    const songs = [newSong('t1', body.sha256, 'Tide')];
    await harness.call('PUT', `/albums/${id}`, {
      version,
      album: { ...album, songs, deliverables: [TRACKS] },
    });
    await harness.work();
    return { id, sha256: body.sha256, flac };
  }

  it('is made anew where it is lost, as it was', async () => {
    const { id, sha256 } = await codedAlbum();
    const before = await readFile(harness.media.decoded(sha256));
    await rm(harness.media.decoded(sha256));
    expect((await render(id)).proved).toBe(true);
    expect((await readFile(harness.media.decoded(sha256))).equals(before)).toBe(true);
  });

  it('is found where it has changed, and made anew', async () => {
    const { id, sha256 } = await codedAlbum();
    const before = await readFile(harness.media.decoded(sha256));
    await rot(harness.media.decoded(sha256), 200_000);
    expect((await render(id)).message).toBe(
      'The master “tide.flac” was decoded again because its decoded copy had changed on disk. Render again.',
    );
    expect((await readFile(harness.media.decoded(sha256))).equals(before)).toBe(true);
    expect((await render(id)).proved).toBe(true);
  });

  it('is summed by a render where an older version has kept no sum of it', async () => {
    const { id, sha256 } = await codedAlbum();
    await harness.db.execute('UPDATE masters SET decoded_sha256 = NULL');
    expect((await render(id)).proved).toBe(true);
    const sum = await harness.db.one((row) => row.decoded_sha256, 'SELECT decoded_sha256 FROM masters');
    expect(sum).toMatch(/^[0-9a-f]{64}$/);
    expect((await stat(harness.media.decoded(sha256))).size).toBeGreaterThan(800_000);
  });

  it('is made anew when the same file comes again', async () => {
    const { id, sha256, flac } = await codedAlbum();
    await rm(harness.media.file(sha256));
    await rm(harness.media.decoded(sha256));
    expect((await render(id)).message).toMatch(/^The file of a compressed master is missing/);
    await bringAgain(id, 'tide.flac', flac);
    expect((await render(id)).proved).toBe(true);
  });
});

import { createHash } from 'node:crypto';
import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { request } from 'node:http';
import type { Measurement } from '@oiseau/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startHarness, toneFile, type Harness } from '../testing/harness.js';

let harness: Harness;
let albumId: string;
beforeAll(async () => {
  harness = await startHarness();
  albumId = (await harness.call<{ id: string }>('POST', '/albums', { title: 'Masters' })).body.id;
});
afterAll(() => harness.close());

interface Master {
  sha256: string;
  name: string;
  info: { rate: number; length: number; format: string };
  measurement: Measurement | null;
}
const masters = async (): Promise<Master[]> =>
  (await harness.call<Master[]>('GET', `/albums/${albumId}/masters`)).body;
const bringIn = (name: string, bytes: Uint8Array<ArrayBuffer>) =>
  harness.send<{ sha256: string; reason: string; error: string }>(
    `/albums/${albumId}/masters?name=${encodeURIComponent(name)}`,
    bytes,
  );
const incoming = (): Promise<string[]> => readdir(join(harness.media.root, 'incoming'));

describe('masters', () => {
  it('are stored by content, once, under the name they came with', async () => {
    const file = toneFile(440, 3, 96_000, 'int24');
    const sha256 = createHash('sha256').update(file).digest('hex');
    expect(await bringIn('01 ünder/../säa.wav', file)).toEqual({ status: 201, body: { sha256 } });
    expect((await bringIn('again.wav', file)).body.sha256).toBe(sha256);
    expect((await readFile(harness.media.file(sha256))).equals(file)).toBe(true);
    expect(await masters()).toMatchObject([
      { sha256, name: 'again.wav', info: { rate: 96_000, length: 288_000, format: 'int24' } },
    ]);
    expect(await incoming()).toEqual([]);
  });

  it('are measured by a worker, once', async () => {
    await harness.work();
    const [master] = await masters();
    // A sine of amplitude 0.4: −7.96 dBFS; both channels alike.
    expect(master?.measurement?.samplePeakDbfs).toBeCloseTo(-7.96, 2);
    expect(master?.measurement?.correlation).toBeCloseTo(1, 9);
    const outline = await fetch(`${harness.url}/api/masters/${master?.sha256}/silhouette`);
    const values = new Uint16Array(await outline.arrayBuffer());
    expect(values.length).toBe(2 * 3 * 75);
    expect((values[0] ?? 0) / 32_768).toBeCloseTo(0.4, 2);
    await bringIn('third.wav', toneFile(440, 3, 96_000, 'int24'));
    const waiting = await harness.db.one(
      (row) => Number(row.n),
      "SELECT COUNT(*) AS n FROM jobs WHERE state = 'queued'",
    );
    expect(waiting).toBe(0);
  });

  it('are read in ranges', async () => {
    const file = toneFile(440, 3, 96_000, 'int24');
    const sha256 = createHash('sha256').update(file).digest('hex');
    const response = await fetch(`${harness.url}/api/masters/${sha256}/audio`, {
      headers: { Range: 'bytes=44-53' },
    });
    expect(response.status).toBe(206);
    expect(Buffer.from(await response.arrayBuffer())).toEqual(Buffer.from(file.slice(44, 54)));
  });

  const mono = (): Uint8Array<ArrayBuffer> => {
    const file = toneFile(440, 1);
    const view = new DataView(file.buffer);
    view.setUint16(22, 1, true);
    view.setUint16(32, 2, true);
    return file;
  };
  const channels = (count: number): Uint8Array<ArrayBuffer> => {
    const file = toneFile(440, 1);
    new DataView(file.buffer).setUint16(22, count, true);
    return file;
  };
  it.each([
    ['not audio', 'words.wav', () => new TextEncoder().encode('nothing but words in this file'), 'not-audio'],
    ['truncated', 'cut.wav', () => toneFile(440, 2).slice(0, 5000), 'truncated'],
    ['mono', 'mono.wav', mono, 'mono'],
    ['more than two channels', 'six.wav', () => channels(6), 'too-many-channels'],
    ['a wrong extension', 'picture.jpg', () => toneFile(440, 1), 'wrong-extension'],
    ['empty', 'empty.wav', () => new Uint8Array(0), 'empty'],
  ])('refuse a file that is %s, and keep nothing of it', async (_, name, make, reason) => {
    const before = await masters();
    const { status, body } = await bringIn(name, make());
    expect([status, body.reason]).toEqual([415, reason]);
    expect(body.error).toMatch(/^[“A-Z0-9].*\.$/);
    expect(await masters()).toEqual(before);
    expect(await incoming()).toEqual([]);
  });

  it('keep nothing of an upload that breaks off', async () => {
    await new Promise<void>((resolve) => {
      const upload = request(`${harness.url}/api/albums/${albumId}/masters?name=broken.wav`, {
        method: 'POST',
        headers: { 'Content-Length': '100000' },
      });
      upload.on('error', () => resolve());
      upload.write(toneFile(440, 0.1), () => setTimeout(() => upload.destroy(new Error('line cut')), 50));
    });
    await expect.poll(incoming).toEqual([]);
  });
});

describe('covers', () => {
  it('are told by their first bytes', async () => {
    const png = Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 1, 2, 3]);
    const kept = await harness.send<{ sha256: string }>('/pictures?name=cover.jpg', png);
    expect(kept.status).toBe(201);
    const back = await fetch(`${harness.url}/api/pictures/${kept.body.sha256}`);
    expect(back.headers.get('content-type')).toBe('image/png');
    expect(
      await harness.send('/pictures?name=cover.png', new TextEncoder().encode('<svg onload="alert(1)"/>')),
    ).toMatchObject({
      status: 415,
      body: { error: '“cover.png” is neither a JPEG nor a PNG picture.' },
    });
  });
});

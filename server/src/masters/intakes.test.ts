import { execFileSync } from 'node:child_process';
import { readdir } from 'node:fs/promises';
import type { IntakeAnswer } from '@oiseau/api';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { startHarness, toneFile, type Harness } from '../testing/harness.js';
import { Uploads } from '../media/uploads.js';

let harness: Harness;
let albumId: string;
beforeEach(async () => {
  harness = await startHarness();
  albumId = (await harness.call<{ id: string }>('POST', '/albums', { title: 'Decoded' })).body.id;
});
afterEach(() => harness.close());

/** A tone coded by FFmpeg. */
const coded = (seconds: number, channels = 2): Uint8Array<ArrayBuffer> =>
  new Uint8Array(
    execFileSync('ffmpeg', ['-v', 'error', '-i', 'pipe:0', '-ac', String(channels), '-f', 'flac', 'pipe:1'], {
      input: toneFile(300, seconds),
      maxBuffer: 1e9,
    }),
  );

/** Sends a file by pieces. @returns the number of the upload */
async function sent(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  const headers = { 'Tus-Resumable': '1.0.0', Authorization: `Bearer ${harness.key}` };
  const begun = await fetch(`${harness.url}/api/uploads`, {
    method: 'POST',
    headers: { ...headers, 'Upload-Length': String(bytes.length) },
  });
  const place = begun.headers.get('location') ?? '';
  await fetch(`${harness.url}${place}`, {
    method: 'PATCH',
    body: bytes,
    headers: { ...headers, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' },
  });
  return place.split('/').at(-1) ?? '';
}
const add = (upload: string, more: object = {}) =>
  harness.call<{ intake?: string; sha256?: string }>('POST', `/albums/${albumId}/masters`, {
    ...{ upload, name: 'tone.flac', later: true },
    ...more,
  });
const intake = async (id: string | undefined): Promise<IntakeAnswer> =>
  (await harness.call<IntakeAnswer>('GET', `/intakes/${id}`)).body;
const masters = async (): Promise<{ name: string; awaits: boolean }[]> =>
  (await harness.call<{ name: string; awaits: boolean }[]>('GET', `/albums/${albumId}/masters`)).body;
const lying = (): Promise<string[]> => readdir(harness.media.uploads);

describe('a coded file', () => {
  it('is decoded by a job, which gives it to the album', async () => {
    const { body } = await add(await sent(coded(4)), { awaits: true });
    expect(await intake(body.intake)).toMatchObject({ state: 'queued', taken: null, refusal: null });
    // A server that begins anew leaves it to the job.
    await new Uploads(harness.media).prepare();
    expect(await masters()).toEqual([]);
    await harness.work();
    expect(await intake(body.intake)).toMatchObject({ state: 'done', taken: { known: false } });
    expect(await masters()).toMatchObject([{ name: 'tone.flac', awaits: true }]);
    expect(await lying()).toEqual([]);
  });

  it('that comes again is known, and plain words are taken in at once', async () => {
    for (const known of [false, true]) {
      const { body } = await add(await sent(coded(4)));
      await harness.work();
      expect((await intake(body.intake)).taken).toMatchObject({ known });
    }
    const { status, body } = await add(await sent(toneFile(440, 4)), { name: 'tone.wav' });
    expect([status, body.intake]).toEqual([201, undefined]);
    expect(body.sha256).toMatch(/^[0-9a-f]{64}$/);
  });

  it('is refused with its reason, and nothing of it stays; a mono one can be agreed to without sending it again', async () => {
    const cut = coded(4);
    const damaged = await add(await sent(cut.slice(0, cut.length / 2)));
    await harness.work();
    const { refusal, state } = await intake(damaged.body.intake);
    expect(state).toBe('done');
    expect(refusal?.reason).toMatch(/^(damaged-audio|truncated)$/);
    expect(await lying()).toEqual([]);
    const upload = await sent(coded(4, 1));
    const mono = await add(upload);
    await harness.work();
    expect((await intake(mono.body.intake)).refusal?.reason).toBe('mono');
    const agreed = await add(upload, { mono: true });
    await harness.work();
    expect((await intake(agreed.body.intake)).taken).not.toBeNull();
    expect(await lying()).toEqual([]);
    expect(await masters()).toHaveLength(1);
  });

  it('is stopped: nothing of it is kept, and it is nobody else’s', async () => {
    const { body } = await add(await sent(coded(4)));
    expect((await harness.call('POST', `/intakes/${body.intake}/stop`)).status).toBe(202);
    await harness.work();
    expect(await intake(body.intake)).toMatchObject({ state: 'stopped', taken: null });
    expect([await lying(), await masters()]).toEqual([[], []]);
    expect((await harness.call('POST', `/intakes/${body.intake}/stop`)).status).toBe(409);
    const { body: guest } = await harness.call<{ key: string }>('POST', '/keys', {
      ...{ name: 'Ada', role: 'assistant', albums: [] },
    });
    const other = await fetch(`${harness.url}/api/intakes/${body.intake}`, {
      headers: { Authorization: `Bearer ${guest.key}` },
    });
    expect(other.status).toBe(404);
  });
});

import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { deliverableSchema, type Album } from '@oiseau/album/model';
import { isDisc, layOutAlbum } from '@oiseau/album/layout';
import { marksInOrder, type DiscImage } from '@oiseau/formats/disc';
import { Upload } from 'tus-js-client';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  albumWithTones,
  deliveriesOf,
  renderedFolder,
  startHarness,
  toneFile,
  type AnsweredDelivery,
  type Harness,
} from '../testing/harness.js';

let harness: Harness;
beforeEach(async () => {
  harness = await startHarness();
});
afterEach(() => harness.close());

/** Sends bytes by pieces and gives the upload's number. */
const upload = (bytes: Buffer): Promise<string> =>
  new Promise((resolve, reject) => {
    const sending = new Upload(bytes, {
      endpoint: `${harness.url}/api/uploads`,
      headers: { Authorization: `Bearer ${harness.key}` },
      onError: reject,
      onSuccess: () => resolve(sending.url?.split('/').at(-1) ?? ''),
    });
    sending.start();
  });

/** An album rendered to one deliverable, and the files of that. */
async function rendered(
  settings: object,
): Promise<{ album: Album; delivery: AnsweredDelivery; files: Map<string, Buffer> }> {
  const { id, album } = await albumWithTones(harness, [300, 500], {
    upc: '2012345678903',
    deliverables: [deliverableSchema.parse({ name: 'd', ...settings })],
  });
  await harness.call('POST', `/albums/${id}/deliveries`, {});
  await harness.work();
  const [delivery] = (await deliveriesOf(harness, id)) as [AnsweredDelivery];
  const folder = await renderedFolder(harness, delivery);
  const names = (await readdir(folder)).filter((name) => name !== 'proof.json');
  const files = new Map<string, Buffer>();
  for (const name of names) files.set(name, await readFile(join(folder, name)));
  return { album, delivery, files };
}

async function bring(files: ReadonlyMap<string, Buffer>) {
  const sent: { upload: string; name: string }[] = [];
  for (const [name, bytes] of files) sent.push({ upload: await upload(bytes), name });
  return harness.call<{ id: string; image: DiscImage; error: string }>('POST', '/images', { files: sent });
}

const sumOf = ({ proof }: AnsweredDelivery, path: string): string | undefined =>
  proof?.files.find((file) => file.path === path)?.sha256;

describe('a disc image that somebody brings', () => {
  it('is judged, taken in as an album, and gives the same image again, byte for byte', async () => {
    const first = await rendered({ kind: 'ddp' });
    const { status, body } = await bring(first.files);
    expect(status).toBe(201);
    expect(body.image).toMatchObject({ kind: 'ddp', upc: '2012345678903', problems: [] });
    expect((await harness.call<{ image: DiscImage }>('GET', `/images/${body.id}`)).body.image).toEqual(
      body.image,
    );

    const made = await harness.call<{ id: string }>('POST', `/images/${body.id}/album`);
    expect(made.status).toBe(201);
    await harness.work();
    const { version, album } = (
      await harness.call<{ version: number; album: Album }>('GET', `/albums/${made.body.id}`)
    ).body;
    expect(album.songs.map(({ title }) => title)).toEqual(['Tone 300', 'Tone 500']);
    const facts = new Map(
      album.songs.map(({ region }) => [region.master, { rate: 44_100, length: 14 * 44_100 }]),
    );
    const [part] = layOutAlbum(album, facts);
    expect(isDisc(part) && marksInOrder(part.disc)).toEqual(
      body.image.marks.filter(({ track, index }) => track > 1 || index > 0),
    );
    const deliverables = [deliverableSchema.parse({ name: 'd', kind: 'ddp' })];
    await harness.call('PUT', `/albums/${made.body.id}`, { version, album: { ...album, deliverables } });
    await harness.call('POST', `/albums/${made.body.id}/deliveries`, {});
    await harness.work();
    const [again] = (await deliveriesOf(harness, made.body.id)) as [AnsweredDelivery];
    expect(again.proof?.proved).toBe(true);
    for (const path of ['IMAGE.DAT', 'PQDESCR', 'DDPMS'])
      expect(sumOf(again, path)).toBe(sumOf(first.delivery, path));
    expect((await harness.call('DELETE', `/images/${body.id}`)).status).toBe(204);
    expect((await harness.call('GET', `/images/${body.id}`)).status).toBe(404);
  });

  it('can be a cue sheet of several files, which become one master', async () => {
    const [one, two] = [toneFile(300, 5), toneFile(500, 4)];
    const sheet =
      'FILE "one.wav" WAVE\n TRACK 01 AUDIO\n  INDEX 01 00:00:00\nFILE "two.wav" WAVE\n TRACK 02 AUDIO\n  INDEX 01 00:00:00\n';
    const files = new Map([
      ['several.cue', Buffer.from(sheet)],
      ['one.wav', Buffer.from(one)],
      ['two.wav', Buffer.from(two)],
    ]);
    const { body } = await bring(files);
    // The image begins two seconds into the disc and lasts 9 s.
    expect(body.image).toMatchObject({ kind: 'cue', leadOut: 11 * 75, problems: [] });
    const taken = await harness.call<{ id: string }>('POST', `/images/${body.id}/album`);
    expect(taken.status).toBe(201);
    const [master, ...others] = (
      await harness.call<{ sha256: string; info: { length: number; dataOffset: number } }[]>(
        'GET',
        `/albums/${taken.body.id}/masters`,
      )
    ).body;
    expect(others).toEqual([]);
    expect(master?.info.length).toBe(9 * 44_100);
    // The words of both, one after the other.
    const joined = await readFile(harness.media.file(master?.sha256 ?? ''));
    const words = (file: Uint8Array): Buffer => Buffer.from(file).subarray(44);
    expect(joined.subarray(44).equals(Buffer.concat([words(one), words(two)]))).toBe(true);
  });

  it('can be a cue sheet with its image', async () => {
    const { files } = await rendered({ kind: 'cue', audio: 'bin' });
    const { body } = await bring(files);
    // 2 + 5 + 2 + 5 s
    expect(body.image).toMatchObject({ kind: 'cue', leadOut: 14 * 75, problems: [] });
    expect((await harness.call('POST', `/images/${body.id}/album`)).status).toBe(201);
  });

  it('is told what is wrong with it, and one that is none is not kept', async () => {
    const { files } = await rendered({ kind: 'ddp' });
    const cut = files.get('IMAGE.DAT') as Buffer;
    const damaged = await bring(new Map([...files, ['IMAGE.DAT', cut.subarray(0, cut.length - 2352)]]));
    expect(damaged.body.image.problems.join(' ')).toMatch(
      /has 1049 sectors; DDPMS says 1050.*checksum of IMAGE\.DAT/,
    );
    const words = await bring(new Map([['notes.txt', Buffer.from('only words')]]));
    expect(words).toMatchObject({
      status: 422,
      body: { error: 'This isn’t a disc image: DDPID is missing.' },
    });
    const climbing = await bring(new Map([['../DDPID', Buffer.from('x')]]));
    expect(climbing).toMatchObject({ status: 422, body: { error: '“../DDPID” isn’t a valid file name.' } });
    expect(await readdir(join(harness.media.root, 'images'))).toEqual([damaged.body.id]);
    expect(await readdir(harness.media.uploads)).toEqual([]);
    expect((await harness.call('GET', '/images/..')).status).toBe(404);
  });
});

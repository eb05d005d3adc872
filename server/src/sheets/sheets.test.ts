import { layOutAlbum } from '@oiseau/album/layout';
import { loudnessQuestions } from '@oiseau/formats/papers';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, startHarness, type Harness } from '../testing/harness.js';

let harness: Harness;
beforeAll(async () => {
  harness = await startHarness();
});
afterAll(() => harness.close());

const pdf = async (
  id: string,
): Promise<{ status: number; type: string | null; name: string; text: string }> => {
  const response = await harness.fetch(`/api/albums/${id}/pq-sheet.pdf`);
  return {
    status: response.status,
    type: response.headers.get('content-type'),
    name: response.headers.get('content-disposition') ?? '',
    text: Buffer.from(await response.arrayBuffer()).toString('latin1'),
  };
};

describe('the PQ sheet as PDF', () => {
  it('comes whole, with its fonts in it', async () => {
    const { id } = await albumWithTones(harness, [301, 302], { title: 'Nine Tides: “Łódź”' });
    const { status, type, name, text } = await pdf(id);
    expect([status, type]).toEqual([200, 'application/pdf']);
    expect(name).toMatch(/PQ sheet\.pdf/);
    expect(text).toMatch(/^%PDF-1\.\d/);
    expect(text.trimEnd()).toMatch(/%%EOF$/);
    // Regular and bold, each embedded whole or as a subset.
    expect(text.match(/\/FontFile2 /g)?.length).toBe(2);
    expect(text).toContain('/Count 1');
  });

  it('goes on over pages', async () => {
    const { id, version, album } = await albumWithTones(harness, [303]);
    const [song] = album.songs;
    const songs = Array.from({ length: 60 }, (_, i) => ({ ...song, id: `t${i}` }));
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, songs } });
    // 60 pauses and 60 tracks at 15 points are three pages of A4.
    expect((await pdf(id)).text).toContain('/Count 3');
  });

  it('is none of an album that does not exist', async () => {
    expect((await pdf('nowhere')).status).toBe(404);
  });
});

describe('ISRCs of other albums', () => {
  it('are told with the album that they stand in, valid ones alone', async () => {
    const { id, version, album } = await albumWithTones(harness, [304, 305]);
    const songs = album.songs.map((song, i) => ({ ...song, isrc: i === 0 ? 'zz-ois-26-00077' : 'ZZ' }));
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, title: 'Taken', songs } });
    const other = await albumWithTones(harness, [306]);
    const { body } = await harness.call<unknown[]>('GET', `/albums/${other.id}/isrcs-elsewhere`);
    expect(body).toEqual([{ isrc: 'ZZOIS2600077', album: 'Taken' }]);
    expect((await harness.call('GET', `/albums/${id}/isrcs-elsewhere`)).body).toEqual([]);
  });
});

describe('the label copy and the loudness report', () => {
  it('come as PDF; loudness once it is measured', async () => {
    const { id, album } = await albumWithTones(harness, [307, 308]);
    const label = await harness.fetch(`/api/albums/${id}/label-copy.pdf`);
    expect([label.status, label.headers.get('content-type')]).toEqual([200, 'application/pdf']);
    const report = () => harness.call('GET', `/albums/${id}/loudness.pdf`).catch(() => ({ status: 200 }));
    expect(await report()).toMatchObject({ status: 409 });
    // Japanese headings are set in a font of their own.
    const japanese = await harness.fetch(`/api/albums/${id}/label-copy.pdf?language=ja`);
    expect(Buffer.from(await japanese.arrayBuffer()).toString('latin1')).toContain('NotoSansJP');
    expect((await harness.fetch(`/api/albums/${id}/label-copy.pdf?language=xx`)).status).toBe(400);
    const masters = new Map(
      album.songs.map(({ region }) => [region.master, { rate: 44_100, length: 5 * 44_100 }]),
    );
    const sounds = loudnessQuestions(layOutAlbum(album, masters));
    await harness.call('POST', `/albums/${id}/sounds`, { sounds });
    await harness.work();
    const whole = await harness.fetch(`/api/albums/${id}/loudness.pdf`);
    expect([whole.status, whole.headers.get('content-type')]).toEqual([200, 'application/pdf']);
    expect(
      Buffer.from(await whole.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
  });
});

import fc from 'fast-check';
import { albumSchema, newAlbum, newSong, type Album } from '@oiseau/album/model';
import type { ShelfEntry } from '@oiseau/api';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, deliveriesOf, startHarness, toneFile, type Harness } from '../testing/harness.js';

let harness: Harness;
beforeAll(async () => {
  harness = await startHarness();
});
afterAll(() => harness.close());

const shelf = async (): Promise<ShelfEntry[]> =>
  (await harness.call<{ albums: ShelfEntry[] }>('GET', '/albums?limit=200')).body.albums;
const entryOf = async (id: string): Promise<ShelfEntry | undefined> =>
  (await shelf()).find((entry) => entry.id === id);
/** Makes a row what no version of us would write. */
const spoil = (table: string, column: string, key: string, id: string, text: string) =>
  harness.db.execute(`UPDATE ${table} SET ${column} = ? WHERE ${key} = ?`, [text, id]);

/** Documents that no version of us has written. */
const SPOILT = ['not json', '{}', '{"version":2,"title":5}', 'null', '[]'];

describe('an album that can’t be read any more', () => {
  it.each(SPOILT)('stands on the Shelf by itself, its raw document to be saved: %s', async (text) => {
    const sound = await albumWithTones(harness, [301]);
    const { id } = await albumWithTones(harness, [302]);
    await spoil('albums', 'document', 'id', id, text);
    expect(await entryOf(id)).toMatchObject({ damaged: true, title: '', tracks: 0 });
    expect(await entryOf(sound.id)).toMatchObject({ damaged: false, tracks: 1 });
    expect(await harness.call('GET', `/albums/${id}`)).toMatchObject({
      status: 422,
      body: {
        code: 'damaged-album',
        error: expect.stringMatching(/^This album is damaged\./) as string,
      },
    });
    const raw = await harness.fetch(`/api/albums/${id}/raw`);
    expect(raw.headers.get('content-disposition')).toContain('attachment');
    expect(await raw.text()).toBe(text);
    for (const path of ['masters', 'deliveries', 'revisions', 'isrcs-elsewhere'])
      expect((await harness.call('GET', `/albums/${id}/${path}`)).status, path).toBe(200);
    expect((await harness.call('GET', `/albums/${sound.id}/isrcs-elsewhere`)).status).toBe(200);
    // Without a revision there is nothing to bring back.
    expect((await harness.call('POST', `/albums/${id}/revisions/1/album`)).status).toBe(404);
  });

  it('comes back as a revision of it; one that can be read is not overwritten so', async () => {
    const { id } = await albumWithTones(harness, [303]);
    await harness.call('POST', `/albums/${id}/deliveries`, {});
    expect((await harness.call('POST', `/albums/${id}/revisions/1/album`)).status).toBe(409);
    await spoil('albums', 'document', 'id', id, '{"version":2}');
    expect((await harness.call('POST', `/albums/${id}/revisions/1/album`)).status).toBe(204);
    expect(await harness.call('GET', `/albums/${id}`)).toMatchObject({
      status: 200,
      body: { album: { songs: [{ title: 'Tone 303' }] } },
    });
  });

  it('has its renders, and a revision that can’t be read stands in nobody’s way', async () => {
    const { id } = await albumWithTones(harness, [304]);
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] });
    await harness.work();
    await harness.db.execute("UPDATE revisions SET document = '{}' WHERE album_id = ?", [id]);
    expect((await harness.call('GET', `/albums/${id}/revisions/1`)).status).toBe(422);
    expect((await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] })).status).toBe(
      202,
    );
    expect((await deliveriesOf(harness, id)).map(({ revision }) => revision)).toEqual([2, 1]);
    const [, first] = await deliveriesOf(harness, id);
    for (const [column, text] of [
      ['deliverable', '{"name":5}'],
      ['proof', '{"files":0}'],
    ] as const)
      await spoil('deliveries', column, 'id', first?.id ?? '', text);
    expect((await deliveriesOf(harness, id))[1]).toMatchObject({
      proof: null,
      message: 'Its proof record is damaged.',
      deliverable: { name: 'unreadable' },
    });
  });
});

describe('a master that can’t be read any more', () => {
  it('is told as damaged, closes no list, and is sound again when it is brought in again', async () => {
    const { id, album } = await albumWithTones(harness, [311]);
    const sha256 = album.songs[0]?.region.master ?? '';
    await harness.work();
    for (const column of ['info', 'coding', 'embedded', 'measurement'])
      await spoil('masters', column, 'sha256', sha256, '{"odd":true}');
    expect(await entryOf(id)).toMatchObject({ tracks: 1 });
    const masters = async () =>
      (await harness.call<{ damaged: boolean }[]>('GET', `/albums/${id}/masters`)).body;
    expect(await masters()).toMatchObject([{ damaged: true, info: { length: 0 }, measurement: null }]);
    expect((await harness.send(`/albums/${id}/masters?name=311.wav`, toneFile(311, 5))).status).toBe(201);
    await harness.work();
    expect(await masters()).toMatchObject([{ damaged: false, info: { length: 5 * 44_100 }, coding: null }]);
    expect((await masters())[0]).not.toMatchObject({ measurement: null });
  });

  it('keeps of a file’s words what it can read again, however many there are', async () => {
    // A WAV file with a title of 100,000 characters, control characters among them, and 20,000 marks.
    const chunk = (id: string, content: Buffer): Buffer => {
      const size = Buffer.alloc(4);
      size.writeUInt32LE(content.length);
      return Buffer.concat([Buffer.from(id, 'latin1'), size, content, Buffer.alloc(content.length % 2)]);
    };
    const cues = Buffer.alloc(4 + 20_000 * 24);
    cues.writeUInt32LE(20_000);
    for (let i = 0; i < 20_000; i++) {
      cues.writeUInt32LE(i, 4 + 24 * i);
      cues.writeUInt32LE(i, 24 + 24 * i);
    }
    const info = Buffer.concat([
      Buffer.from('INFO'),
      chunk('INAM', Buffer.from(`\x01\x1b${'é'.repeat(100_000)}`)),
    ]);
    const wav = Buffer.concat([Buffer.from(toneFile(312, 4)), chunk('LIST', info), chunk('cue ', cues)]);
    wav.writeUInt32LE(wav.length - 8, 4);
    const { id } = (await harness.call<{ id: string }>('POST', '/albums', {})).body;
    expect((await harness.send(`/albums/${id}/masters?name=odd.wav`, new Uint8Array(wav))).status).toBe(201);
    const [master] = (
      await harness.call<{ embedded: { fields: { title: string }; cues: unknown[] } }[]>(
        'GET',
        `/albums/${id}/masters`,
      )
    ).body;
    expect(master?.embedded.fields.title).toBe('é'.repeat(4000));
    expect(master?.embedded.cues).toHaveLength(10_000);
  });
});

describe('whatever can be stored', () => {
  /** Texts that people and files have: anything that Unicode has, at any length. */
  const anyText = fc.oneof(
    fc.string({ unit: 'binary', maxLength: 60 }),
    fc.string({ unit: 'grapheme', maxLength: 60 }),
    fc.constantFrom('x'.repeat(4000), 'x'.repeat(4001), '😀'.repeat(2000), '\0', '\ud800', '"},{"', '\u2028'),
  );
  const anySong = fc
    .record({ title: anyText, performer: anyText, isrc: anyText, comment: anyText, lyricist: anyText })
    .map((words, i = 0): Album['songs'][number] => ({ ...newSong(`s${i}`, 'm'.repeat(64), ''), ...words }));

  it('can be read again: an album is saved as it was sent, or refused with its field', async () => {
    const { id } = (await harness.call<{ id: string }>('POST', '/albums', {})).body;
    let version = 1;
    await fc.assert(
      fc.asyncProperty(
        fc.record({ title: anyText, label: anyText, upc: anyText, genre: anyText }),
        async (words) => {
          const album = { ...newAlbum(''), ...words };
          const { status, body } = await harness.call<{ error?: string }>('PUT', `/albums/${id}`, {
            version,
            album,
          });
          const readable = albumSchema.safeParse(album).success;
          expect(status).toBe(readable ? 200 : 400);
          if (readable) version += 1;
          else expect(body.error).toMatch(/^album\.(title|label|upc|genre): /);
          if (readable)
            expect((await harness.call('GET', `/albums/${id}`)).body).toMatchObject({ album: words });
          expect(await entryOf(id)).toMatchObject({ damaged: false });
        },
      ),
      { numRuns: 60 },
    );
  });

  it('can be read again: albums out of files, their copies, and notes', async () => {
    await fc.assert(
      fc.asyncProperty(anyText, fc.array(anySong, { maxLength: 2 }), anyText, async (title, songs, by) => {
        const tracks = songs.map(({ title: of, comment }) => ({ master: 'none.wav', title: of, comment }));
        const file = JSON.stringify({ format: 'oiseau-album', version: 1, title, tracks: [] });
        const made = await harness.call<{ id: string }>('POST', '/album-files', { file });
        expect([201, 422]).toContain(made.status);
        const odd = { file: JSON.stringify({ format: 'oiseau-album', version: 1, tracks }) };
        expect([201, 422]).toContain((await harness.call('POST', '/album-files', odd)).status);
        if (made.status === 201) {
          const copy = await harness.call<{ id: string }>('POST', `/albums/${made.body.id}/duplicate`);
          expect(copy.status).toBe(201);
          expect(await entryOf(copy.body.id)).toMatchObject({ damaged: false });
        }
        const named = await harness.call('POST', '/keys', { name: by, role: 'guest', albums: null });
        expect([201, 400]).toContain(named.status);
        expect((await harness.call('GET', '/keys')).status).toBe(200);
        expect((await shelf()).filter(({ damaged }) => damaged)).toHaveLength(SPOILT.length);
      }),
      { numRuns: 40 },
    );
  });
});

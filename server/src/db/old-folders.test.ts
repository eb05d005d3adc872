import { createHash } from 'node:crypto';
import { mkdir, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { expect, it } from 'vitest';
import { deliveriesOf, startHarness, toneFile } from '../testing/harness.js';
import type { Database } from './database.js';
import { migrate } from './migrate.js';
import { MIGRATIONS } from './migrations.js';

const ALBUM = '0f8fad5b-d9cb-469f-a165-70867728950e';
const DELIVERY = '7c9e6679-7425-40de-944b-e07fc1f90ae7';
const TONE = toneFile(440, 5);
const MASTER = createHash('sha256').update(TONE).digest('hex');
const NOW = 'UTC_TIMESTAMP(3)';

const words = { songwriter: '', composer: '', arranger: '', message: '' };
const noFade = { length: 0, shape: 'linear' };
/** An album as the very first version kept it. */
const document = JSON.stringify({
  ...{
    title: 'Nine Tides',
    performer: 'Marram Lamps',
    ...words,
    genre: '',
    label: '',
    catalogNumber: '',
    upc: '',
  },
  ...{ releaseDate: '', copyright: '', phonogram: '', language: 'en', discNumber: 1, discTotal: 1 },
  ...{ artwork: null, markLead: 0, endPause: 0 },
  tracks: [
    {
      ...{
        id: 't1',
        master: MASTER,
        in: 0,
        out: null,
        gapBefore: 2 * 705_600_000,
        gainDb: 0,
        fadeIn: noFade,
      },
      ...{ fadeOut: noFade, indexes: [], title: 'Lamp Lit', performer: '', ...words, isrc: 'ZZOIS2600001' },
      ...{ copyPermitted: false, preEmphasis: false },
    },
  ],
  deliverables: [{ name: 'image', kind: 'cue', audio: 'wav', dither: 'triangular' }],
});
const info = JSON.stringify({
  ...{ container: 'RIFF', rate: 44_100, channels: 2, format: 'int16', validBits: 16 },
  ...{ length: 5 * 44_100, dataOffset: 44 },
});
const proof = JSON.stringify({ deliverable: 'image', revision: 1, proved: true, files: [] });

/** A data folder as it was after so many migrations: an album, its master, a revision, a render, and a render that waits. */
async function fillEarly(db: Database): Promise<void> {
  const put = (sql: string, values: (string | number)[]) => db.execute(sql, values);
  await put(
    `INSERT INTO albums (id, document, version, created_at, updated_at) VALUES (?, ?, 3, ${NOW}, ${NOW})`,
    [ALBUM, document],
  );
  await put(`INSERT INTO masters (sha256, bytes, info, created_at) VALUES (?, ?, ?, ${NOW})`, [
    MASTER,
    TONE.length,
    info,
  ]);
  await put(`INSERT INTO album_masters (album_id, sha256, name, added_at) VALUES (?, ?, '01.wav', ${NOW})`, [
    ALBUM,
    MASTER,
  ]);
  await put(`INSERT INTO revisions (album_id, number, document, created_at) VALUES (?, 1, ?, ${NOW})`, [
    ALBUM,
    document,
  ]);
  await put(`INSERT INTO jobs (kind, subject, state, created_at) VALUES ('render', ?, 'done', ${NOW})`, [
    DELIVERY,
  ]);
  await put(
    `INSERT INTO deliveries (id, album_id, revision, deliverable, job_id, proof, created_at)
     SELECT ?, ?, 1, '{"name":"image","kind":"cue","audio":"wav","dither":"triangular"}', MAX(id), ?, ${NOW} FROM jobs`,
    [DELIVERY, ALBUM, proof],
  );
  await put(`INSERT INTO jobs (kind, subject, created_at) VALUES ('measure', ?, ${NOW})`, [MASTER]);
}

it.each(MIGRATIONS.map(({ name }, i) => [name, i + 1] as const))(
  'a data folder of “%s” opens: its album is listed, edited, rendered and proved',
  async (_, count) => {
    const harness = await startHarness({}, async (db) => {
      await migrate(db, undefined, MIGRATIONS.slice(0, count));
      await fillEarly(db);
    });
    try {
      await mkdir(dirname(harness.media.file(MASTER)), { recursive: true });
      await writeFile(harness.media.file(MASTER), TONE);
      const { body: shelf } = await harness.call<{ albums: object[] }>('GET', '/albums');
      // Two seconds of pause and five of sound.
      expect(shelf.albums).toMatchObject([
        { id: ALBUM, title: 'Nine Tides', performer: 'Marram Lamps', tracks: 1, frames: 7 * 75 },
      ]);
      const { body } = await harness.call<{ version: number; album: { songs: object[] } }>(
        'GET',
        `/albums/${ALBUM}`,
      );
      expect(body.version).toBe(3);
      expect(body.album.songs).toMatchObject([{ id: 't1', title: 'Lamp Lit', numbered: true }]);
      const album = { ...body.album, label: 'Low Light' };
      expect((await harness.call('PUT', `/albums/${ALBUM}`, { version: 3, album })).status).toBe(200);
      expect(await deliveriesOf(harness, ALBUM)).toMatchObject([
        { id: DELIVERY, revision: 1, state: 'done', proof: { proved: true, made: null }, compared: null },
      ]);
      await harness.call('POST', `/albums/${ALBUM}/deliveries`, { revision: 1 });
      await harness.work();
      const [newest] = await deliveriesOf(harness, ALBUM);
      expect(newest).toMatchObject({ state: 'done', revision: 1, proof: { proved: true } });
      const wav = newest?.proof?.files.find(({ path }) => path.endsWith('.wav'));
      // The tone as it came, after a pause of two seconds that stands before the image.
      expect(wav?.frames).toBe(5 * 44_100);
      const masters = await harness.call<{ measurement: unknown }[]>('GET', `/albums/${ALBUM}/masters`);
      expect(masters.body[0]?.measurement).not.toBeNull();
    } finally {
      await harness.close();
    }
  },
);

import { deliverableSchema, newSong, type Album } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { sideQuestion, type LineUpFigures, type SideFigures } from '@oiseau/album/measured';
import { encodeWords, wavHeader } from '@oiseau/audio/pcm';
import { NO_TREATMENT } from '@oiseau/audio/stages';
import { setAlternate } from '@oiseau/album/edits';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { deliveriesOf, startHarness, type Harness } from '../testing/harness.js';

const RATE = 44_100;
/** Six seconds of strokes at uneven times, `late` samples late; silence where `loud` is 0. */
function strokes(late: number, loud = 0.5): Uint8Array<ArrayBuffer> {
  const left = new Float64Array(6 * RATE);
  let random = 12_345;
  const next = (): number => (random = (random * 48_271) % 2_147_483_647) / 2_147_483_647;
  for (let at = late; at < left.length - RATE; at += Math.round((0.1 + 0.4 * next()) * RATE))
    for (let n = 0; n < 0.2 * RATE; n++)
      left[at + n] = (left[at + n] as number) + loud * Math.exp(-n / 800) * (next() - 0.5);
  const words = encodeWords({ left, right: left }, 'int16');
  const header = wavHeader('int16', RATE, left.length);
  const file = new Uint8Array(header.length + words.length);
  file.set(header);
  file.set(words, header.length);
  return file;
}

let harness: Harness;
let id: string;
let album: Album;
let version: number;
const keys: string[] = [];
beforeAll(async () => {
  harness = await startHarness();
  id = (await harness.call<{ id: string }>('POST', '/albums', { title: 'Nine Tides' })).body.id;
  for (const [name, file] of [
    ['main', strokes(0)],
    ['late', strokes(441)],
    ['silent', strokes(0, 0)],
  ] as const)
    keys.push(
      (await harness.send<{ sha256: string }>(`/albums/${id}/masters?name=${name}.wav`, file)).body.sha256,
    );
  const made = (await harness.call<{ album: Album; version: number }>('GET', `/albums/${id}`)).body;
  ({ version } = made);
  const files = deliverableSchema.parse({
    name: 'files',
    kind: 'tracks',
    alternates: ['main', 'instrumental'],
  });
  album = setAlternate(
    { ...made.album, songs: [newSong('t1', keys[0] ?? '', 'Lamp')], deliverables: [files] },
    't1',
    'instrumental',
    keys[1] ?? '',
  );
  await save(album);
  await harness.work();
});
afterAll(() => harness.close());

async function save(next: Album): Promise<void> {
  const saved = await harness.call<{ version: number }>('PUT', `/albums/${id}`, { version, album: next });
  expect(saved.status).toBe(200);
  ({ version } = saved.body);
}
interface Answered<T> {
  readonly figures: T | null;
  readonly job?: { readonly state: string };
}
const lineUp = async (master: string, other: string): Promise<Answered<LineUpFigures> | undefined> => {
  const questions = [{ kind: 'line-up', master, other }];
  return (await harness.call<Answered<LineUpFigures>[]>('POST', `/albums/${id}/line-ups`, { questions }))
    .body[0];
};

describe('other recordings of a song', () => {
  it('are laid against their masters when somebody asks', async () => {
    const [main = '', late = '', silent = ''] = keys;
    expect(await lineUp(main, late)).toMatchObject({ figures: null, job: { state: 'queued' } });
    await lineUp(main, silent);
    await harness.work();
    expect((await lineUp(main, late))?.figures?.found).toMatchObject({ samples: 441, rate: RATE });
    expect((await lineUp(main, silent))?.figures).toEqual({ found: null });
    const stranger = await harness.call('POST', `/albums/${id}/line-ups`, {
      questions: [{ kind: 'line-up', master: main, other: 'f'.repeat(64) }],
    });
    expect(stranger.status).toBe(409);
  });

  it('can be asked for by many at once', async () => {
    const [main = '', late = ''] = keys;
    const ride = (db: number) => ({
      ...{ kind: 'song' as const, master: late, gainDb: 0 },
      sound: { ...NO_TREATMENT, ride: db },
    });
    const asks = Array.from({ length: 12 }, (_, i) =>
      i % 2 === 0
        ? harness.call('POST', `/albums/${id}/sounds`, { sounds: [1, 2, 3, 4].map((n) => ride(-i - n)) })
        : harness.call('POST', `/albums/${id}/line-ups`, {
            questions: [{ kind: 'line-up', master: late, other: main }],
          }),
    );
    expect((await Promise.all(asks)).map(({ status }) => status)).toEqual(asks.map(() => 200));
  });

  it('are rendered beside their masters and proved, and stay in the album as long as a song has them', async () => {
    await harness.call('POST', `/albums/${id}/deliveries`, { by: 'Ada' });
    await harness.work();
    const [delivery] = await deliveriesOf(harness, id);
    expect(delivery).toMatchObject({ state: 'done', proof: { proved: true } });
    expect(delivery?.proof?.files.map(({ path, frames }) => [path, frames])).toEqual([
      ['01 Lamp.wav', 6 * RATE],
      ['01 Lamp (instrumental).wav', 6 * RATE],
      ['SHA256SUMS', null],
    ]);
    expect((await harness.call('DELETE', `/albums/${id}/masters/${keys[1]}`)).status).toBe(409);
    // The album file names it beside the master.
    const { body } = await harness.call<{ tracks: object[] }>('GET', `/albums/${id}/file`);
    expect(body.tracks).toMatchObject([{ master: 'main.wav', alternates: { instrumental: 'late.wav' } }]);
  });

  it('that are silent, or asked for in vain, are no render', async () => {
    await save(setAlternate(album, 't1', 'instrumental', keys[2] ?? ''));
    const silent = await harness.call<{ error: string }>('POST', `/albums/${id}/deliveries`, { by: 'Ada' });
    expect([silent.status, JSON.stringify(silent.body)]).toEqual([422, expect.stringContaining('is silent')]);
    const whole = deliverableSchema.parse({ name: 'whole', kind: 'continuous', alternate: 'clean' });
    await save({ ...album, deliverables: [whole] });
    const none = await harness.call<{ error: string }>('POST', `/albums/${id}/deliveries`, { by: 'Ada' });
    expect([none.status, JSON.stringify(none.body)]).toEqual([422, expect.stringContaining('“clean”')]);
  });
});

describe('a side of a record', () => {
  it('is measured as it is heard', async () => {
    const side = { medium: 'vinyl-7-45', first: 't1', title: '', upc: '', limit: null } as const;
    const facts = new Map([[keys[0] ?? '', { rate: RATE, length: 6 * RATE }]]);
    const [part] = layOutAlbum({ ...album, parts: [side] }, facts);
    const ask = async () =>
      (
        await harness.call<Answered<SideFigures>[]>('POST', `/albums/${id}/sides`, {
          questions: [sideQuestion(part)],
        })
      ).body[0];
    expect(await ask()).toMatchObject({ figures: null });
    await harness.work();
    const { course } = (await ask())?.figures ?? {};
    expect(course?.levelDb).toHaveLength(6);
    // Both channels are alike: nothing to the sides.
    expect(Math.max(...(course?.widthDb ?? [0]))).toBe(-96);
  });
});

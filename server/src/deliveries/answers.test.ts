import type { AnswerRecord, NoteRecord } from '@oiseau/api';
import { deliverableSchema } from '@oiseau/album/model';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { emptyBin } from '../maintenance/housekeeping.js';
import {
  albumWithTones,
  deliveriesOf,
  startHarness,
  type AnsweredDelivery,
  type Harness,
} from '../testing/harness.js';

let harness: Harness;
let albumId: string;
let delivery: AnsweredDelivery;
beforeAll(async () => {
  harness = await startHarness();
  const deliverables = [deliverableSchema.parse({ name: 'listen', kind: 'listening', format: 'wav' })];
  albumId = (await albumWithTones(harness, [440, 550], { deliverables })).id;
  await harness.call('POST', `/albums/${albumId}/deliveries`, {});
  await harness.work();
  const [first] = await deliveriesOf(harness, albumId);
  if (!first?.proof?.proved) throw new Error('It is rendered and proved.');
  delivery = first;
});
afterAll(() => harness.close());

const answer = (change: object = {}) => ({
  ...{ format: 'oiseau-answer', version: 1, title: 'Nine Tides', revision: 1, deliverable: 'listen' },
  ...{ name: 'Ebba Thole', verdict: 'change', words: 'More air before the second.' },
  notes: [{ path: 'audio/listen.wav', seconds: 4.5, text: 'too soon' }],
  files: delivery.proof?.files
    .filter(({ frames }) => frames !== null)
    .map(({ path, sha256 }) => ({ path, sha256 })),
  ...change,
});
const take = (body: object) =>
  harness.call<{ error: string }>('POST', `/deliveries/${delivery.id}/answers`, body);

describe('an answer of a listener', () => {
  it('stays with the delivery, with who, when and which bytes; its notes stand beside one’s own', async () => {
    expect(await take(answer())).toMatchObject({ status: 201 });
    const { body } = await harness.call<AnswerRecord[]>('GET', `/deliveries/${delivery.id}/answers`);
    expect(body).toMatchObject([{ name: 'Ebba Thole', verdict: 'change', files: answer().files }]);
    expect(Date.now() - Date.parse(body[0]?.at ?? '')).toBeLessThan(60_000);
    const notes = await harness.call<NoteRecord[]>('GET', `/deliveries/${delivery.id}/notes`);
    expect(notes.body).toMatchObject([
      { path: 'audio/listen.wav', seconds: 4.5, text: 'too soon', author: 'Ebba Thole' },
    ]);
    expect((await harness.call('GET', `/albums/${albumId}/answers`)).body).toMatchObject([
      { deliveryId: delivery.id, revision: 1 },
    ]);
  });

  it('that was taken in already, or is of other bytes, is refused, and leaves nothing', async () => {
    expect(await take(answer())).toMatchObject({
      status: 409,
      body: { error: expect.stringContaining('already') as string },
    });
    const files = [{ path: 'audio/listen.wav', sha256: 'a'.repeat(64) }];
    expect(await take(answer({ name: 'Mallory', files }))).toMatchObject({
      status: 409,
      body: { error: expect.stringContaining('different files') as string },
    });
    const notes = [{ path: '../listen.wav', seconds: 1, text: '' }];
    expect(await take(answer({ name: 'Mallory', notes }))).toMatchObject({ status: 422 });
    expect(await take(answer({ name: '' }))).toMatchObject({ status: 400 });
    const { body } = await harness.call<AnswerRecord[]>('GET', `/deliveries/${delivery.id}/answers`);
    expect(body.map(({ name }) => name)).toEqual(['Ebba Thole']);
  });

  it('goes with the album', async () => {
    expect((await harness.call('DELETE', `/albums/${albumId}`)).status).toBe(204);
    await emptyBin(harness.db, harness.media, Date.now() + 1000);
    const left = await harness.db.one((row) => Number(row.n), 'SELECT COUNT(*) AS n FROM answers');
    expect(left).toBe(0);
  });
});

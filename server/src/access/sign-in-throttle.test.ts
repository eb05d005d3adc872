import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, deliveriesOf, startHarness, type Harness } from '../testing/harness.js';
import { JSON_TYPE, raw } from '../testing/raw-requests.js';
import { forgetTurns, takeTurn } from './sign-in-throttle.js';

let harness: Harness;
beforeAll(async () => {
  harness = await startHarness();
});
afterAll(() => harness.close());

/** As if so many seconds had passed since every try. */
const pass = (seconds: number) =>
  harness.db.execute('UPDATE failed_tries SET last_at = last_at - INTERVAL ? SECOND', [seconds]);

describe('turns at trying a password', () => {
  const allowance = { free: 2, first: 1, longest: 4 };
  const attempt = (subject: string) =>
    takeTurn(harness.db, subject, allowance).then(
      () => 'allowed',
      (error: unknown) => (error as { status: number; message: string }).message,
    );

  it('cost nothing at first, then a second, two, four and never more', async () => {
    expect([await attempt('a'), await attempt('a')]).toEqual(['allowed', 'allowed']);
    expect(await attempt('a')).toBe('Too many tries. Try again in 1 s.');
    for (const [seconds, next] of [
      [1, 2],
      [2, 4],
      [4, 4],
    ] as const) {
      await pass(seconds);
      expect(await attempt('a')).toBe('allowed');
      expect(await attempt('a')).toBe(`Too many tries. Try again in ${next} s.`);
    }
    expect(await attempt('b')).toBe('allowed');
    await forgetTurns(harness.db, 'a');
    expect(await attempt('a')).toBe('allowed');
  });

  it('are as many when all come at once', async () => {
    const answers = await Promise.all(Array.from({ length: 60 }, () => attempt('at once')));
    expect(answers.filter((answer) => answer === 'allowed')).toHaveLength(2);
  });
});

describe('guessing the password of a listener’s link', () => {
  it('finds no more among hundreds at once than among a few, and keeps nobody else waiting', async () => {
    const { id } = await albumWithTones(harness, [611]);
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] });
    await harness.work();
    const [delivery] = await deliveriesOf(harness, id);
    const invite = async (password: string) =>
      (
        await harness.call<{ id: string; secret: string }>(
          'POST',
          `/deliveries/${delivery?.id}/invitations`,
          {
            ...{ name: 'Ada', password },
            endsAt: new Date(Date.now() + 86_400_000).toISOString(),
          },
        )
      ).body;
    const guess = ({ id: invitation, secret }: { id: string; secret: string }, password: string) =>
      raw(
        harness,
        'POST',
        `/api/listening/${invitation}/session`,
        JSON_TYPE,
        JSON.stringify({ secret, password }),
      ).then(({ status }) => status);
    const attacked = await invite('0099');
    const other = await invite('other');
    const guesses = Promise.all(
      Array.from({ length: 300 }, (_, i) => guess(attacked, String(i % 100).padStart(4, '0'))),
    );
    expect(await guess(other, 'other')).toBe(204);
    const statuses = await guesses;
    // Five are tried, in whatever order they came; the right one counts as a try like any other.
    expect(statuses.filter((status) => status !== 429).length).toBeLessThanOrEqual(6);
    expect(await guess(attacked, '0099')).toBe(429);
    await pass(3600);
    expect(await guess(attacked, '0099')).toBe(204);
  });
});

import { change, type Change } from '@oiseau/api';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, deliveriesOf, startHarness, type Harness } from '../testing/harness.js';
import { forgetOldChanges } from './change-repository.js';

let harness: Harness;
beforeAll(async () => {
  harness = await startHarness();
});
afterAll(() => harness.close());

interface Told {
  readonly event: string;
  readonly id: number | null;
  readonly data: unknown;
}

/** Follows the channel by the wire format alone: fields of a block, blocks parted by empty lines. */
async function follow(query = '', headers: Record<string, string> = {}) {
  const stop = new AbortController();
  const response = await harness.fetch(`/api/changes${query}`, {
    headers: { Accept: 'text/event-stream', ...headers },
    signal: stop.signal,
  });
  const told: Told[] = [];
  const reading = (async () => {
    let text = '';
    for await (const bytes of response.body ?? []) {
      text += new TextDecoder().decode(bytes as Uint8Array);
      for (let end = text.indexOf('\n\n'); end >= 0; end = text.indexOf('\n\n')) {
        const lines = text.slice(0, end).split('\n');
        text = text.slice(end + 2);
        const field = (name: string) =>
          lines.find((line) => line.startsWith(`${name}: `))?.slice(name.length + 2);
        const event = field('event');
        if (event !== undefined)
          told.push({
            event,
            id: field('id') === undefined ? null : Number(field('id')),
            data: JSON.parse(field('data') ?? ''),
          });
      }
    }
  })().catch(() => undefined);
  const until = async (holds: () => boolean): Promise<void> => {
    for (let tries = 0; !holds(); tries++) {
      if (tries > 200) throw new Error(`not told: ${JSON.stringify(told)}`);
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  };
  const changes = (): Change[] =>
    told.filter(({ event }) => event === 'change').map(({ data }) => change.parse(data));
  return {
    ...{ response, told, until, changes },
    async heard(topic: string, album: string | null): Promise<void> {
      await until(() => changes().some((each) => each.topic === topic && each.album === album));
    },
    async close(): Promise<void> {
      stop.abort();
      await reading;
    },
  };
}

const titled = (text: string) => ({ title: text });

describe('the channel of changes', () => {
  it('tells of an album, its masters, its renders and its notes as they change, in whichever process', async () => {
    const channel = await follow();
    expect(channel.response.headers.get('content-type')).toMatch(/^text\/event-stream/);
    expect(channel.response.headers.get('cache-control')).toContain('no-transform');
    const { id, version, album } = await albumWithTones(harness, [311]);
    await channel.heard('masters', id);
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, ...titled('Other') } });
    await channel.until(() =>
      channel.changes().some((each) => each.album === id && each.version === version + 1),
    );
    await harness.call('POST', `/albums/${id}/deliveries`, { deliverables: ['image'] });
    await harness.work();
    await channel.heard('deliveries', id);
    const [delivery] = await deliveriesOf(harness, id);
    await harness.call('POST', `/deliveries/${delivery?.id}/notes`, {
      path: (await harness.call<{ path: string }[]>('GET', `/deliveries/${delivery?.id}/files`)).body[0]
        ?.path,
      seconds: 1,
      text: 'a note',
    });
    await channel.heard('notes', id);
    await channel.close();
  });

  it('says nothing where only a sign of life was given', async () => {
    await harness.db.execute(
      "INSERT INTO jobs (kind, subject, created_at) VALUES ('verify', '', UTC_TIMESTAMP(3))",
    );
    const channel = await follow();
    await harness.db.execute(
      "UPDATE jobs SET heartbeat_at = UTC_TIMESTAMP(3), beat = beat + 1 WHERE kind = 'verify'",
    );
    const { id } = await albumWithTones(harness, []);
    await channel.heard('album', id);
    expect(channel.changes().map(({ topic }) => topic)).not.toContain('storage');
    await harness.db.execute("DELETE FROM jobs WHERE kind = 'verify'");
    await channel.close();
  });

  it('goes on behind the event that a reader knows, by header or address, and leaves none out', async () => {
    const first = await follow();
    const { id, version, album } = await albumWithTones(harness, []);
    await first.heard('album', id);
    await first.close();
    const last = first.told.findLast((each) => each.id !== null)?.id ?? 0;
    expect(last).toBeGreaterThan(0);
    await harness.call('PUT', `/albums/${id}`, { version, album: { ...album, ...titled('Meanwhile') } });
    for (const [query, headers] of [
      ['', { 'Last-Event-ID': String(last) }],
      [`?after=${last}`, {}],
    ] as const) {
      const next = await follow(query, headers);
      await next.until(() =>
        next.changes().some((each) => each.album === id && each.version === version + 1),
      );
      await next.close();
    }
  });

  it('tells what has changed lately to a page that was just drawn', async () => {
    const { id } = await albumWithTones(harness, []);
    const channel = await follow('?within=60000');
    await channel.heard('album', id);
    await channel.close();
  });

  it.each(['0', '99999999'])(
    'says that everything must be asked for again to who knows event %s',
    async (after) => {
      const channel = await follow('', { 'Last-Event-ID': after });
      await channel.until(() => channel.told.some(({ event }) => event === 'reset'));
      await channel.close();
    },
  );

  it('tells of a row that becomes visible after one with a higher id', async () => {
    const { id } = await albumWithTones(harness, []);
    const other = await albumWithTones(harness, []);
    const channel = await follow();
    await harness.db.transaction(async (late) => {
      await late.execute('UPDATE albums SET version = version + 1 WHERE id = ?', [id]);
      await harness.db.execute('UPDATE albums SET version = version + 1 WHERE id = ?', [other.id]);
      await channel.heard('album', other.id);
    });
    await channel.heard('album', id);
    await channel.close();
  });

  it('is cut off when its key is revoked', async () => {
    const { body: guest } = await harness.call<{ id: string; key: string }>('POST', '/keys', {
      ...{ name: 'Ben', role: 'guest', albums: null },
    });
    const channel = await follow('', { Authorization: `Bearer ${guest.key}` });
    expect(channel.response.status).toBe(200);
    await harness.call('DELETE', `/keys/${guest.id}`);
    const { id } = await albumWithTones(harness, []);
    await new Promise((resolve) => setTimeout(resolve, 600));
    expect(channel.changes().some(({ album }) => album === id)).toBe(false);
    await channel.close();
  });

  it('is cut off when its session ends, and no other is', async () => {
    const signIn = async () => {
      const response = await fetch(`${harness.url}/api/session`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ key: harness.key }),
      });
      return (response.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
    };
    const [gone, stays] = [await signIn(), await signIn()];
    // Without the key that the harness comes with: an empty one is none.
    const [ended, goesOn] = [
      await follow('', { Cookie: gone, Authorization: '' }),
      await follow('', { Cookie: stays, Authorization: '' }),
    ];
    expect([ended.response.status, goesOn.response.status]).toEqual([200, 200]);
    const out = await fetch(`${harness.url}/api/session`, {
      method: 'DELETE',
      headers: { Cookie: gone, 'X-Oiseau': '1' },
    });
    expect(out.status).toBe(204);
    const { id } = await albumWithTones(harness, []);
    await goesOn.heard('album', id);
    expect(ended.changes().some(({ album }) => album === id)).toBe(false);
    await Promise.all([ended.close(), goesOn.close()]);
  });

  it('tells a key to some albums of no other', async () => {
    const mine = await albumWithTones(harness, []);
    const { body: guest } = await harness.call<{ key: string }>('POST', '/keys', {
      ...{ name: 'Cleo', role: 'guest', albums: [mine.id] },
    });
    const channel = await follow('', { Authorization: `Bearer ${guest.key}` });
    const other = await albumWithTones(harness, []);
    await harness.db.execute('UPDATE albums SET version = version + 1 WHERE id = ?', [mine.id]);
    await channel.heard('album', mine.id);
    expect(channel.changes().map(({ album }) => album)).not.toContain(other.id);
    await channel.close();
  });

  it('is open a hundred times with one key and no more, and again when one has gone', async () => {
    const { body: guest } = await harness.call<{ key: string }>('POST', '/keys', {
      ...{ name: 'Dora', role: 'guest', albums: null },
    });
    const headers = { Authorization: `Bearer ${guest.key}` };
    const channels = await Promise.all(Array.from({ length: 100 }, () => follow('', headers)));
    const one = await follow('', headers);
    expect([channels.at(-1)?.response.status, one.response.status]).toEqual([200, 429]);
    await channels.pop()?.close();
    await expect
      .poll(async () => {
        const again = await follow('', headers);
        channels.push(again);
        return again.response.status;
      })
      .toBe(200);
    await Promise.all([one, ...channels].map((channel) => channel.close()));
  });

  it('answers a program that asks now and then, and not for the stream', async () => {
    const { body } = await harness.call<{ last: number }>('GET', '/changes');
    const { id } = await albumWithTones(harness, []);
    const since = await harness.call<{ last: number; missed: boolean; changes: Change[] }>(
      'GET',
      `/changes?after=${body.last}`,
    );
    expect(since.body.missed).toBe(false);
    expect(since.body.last).toBeGreaterThan(body.last);
    expect(since.body.changes).toContainEqual({ topic: 'album', album: id, version: 2 });
    const old = await harness.call('GET', '/changes?after=99999999');
    expect(old.body).toMatchObject({ missed: true, changes: [] });
  });

  it('is forgotten after an hour', async () => {
    await albumWithTones(harness, []);
    await harness.db.execute('UPDATE changes SET at = at - INTERVAL 2 HOUR');
    const { id } = await albumWithTones(harness, []);
    await forgetOldChanges(harness.db);
    const left = await harness.db.many((row) => String(row.subject), 'SELECT subject FROM changes');
    expect(new Set(left)).toEqual(new Set([id]));
  });
});

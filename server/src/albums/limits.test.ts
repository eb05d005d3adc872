import fc from 'fast-check';
import { deliverableSchema, type Album } from '@oiseau/album/model';
import { ticks } from '@oiseau/audio/time';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { albumWithTones, startHarness, type Harness } from '../testing/harness.js';

let harness: Harness;
let sound: string;
let attacked: { id: string; version: number; album: Album };
beforeAll(async () => {
  harness = await startHarness();
  sound = (await albumWithTones(harness, [501])).id;
  attacked = await albumWithTones(harness, [502, 503], {
    deliverables: [
      { name: 'plant', kind: 'ddp', alternate: 'main', dither: 'triangular' },
      deliverableSchema.parse({ name: 'files', kind: 'tracks', format: 'mp3', bitrate: 320, select: [1, 2] }),
      deliverableSchema.parse({ name: 'whole', kind: 'continuous', format: 'flac', from: 0, to: 1 }),
    ],
  });
});
afterAll(() => harness.close());

type Json = number | string | boolean | null | Json[] | JsonObject;
interface JsonObject {
  readonly [key: string]: Json;
}
type Path = readonly (string | number)[];

/** An album in which every optional number has a value. */
function fullAlbum(): Json {
  const { album } = attacked;
  const full: Album = {
    ...album,
    songs: album.songs.map((song) => ({
      ...song,
      region: {
        ...song.region,
        out: ticks(2 * 705_600_000),
        fadeIn: { ...song.region.fadeIn, length: ticks(705_600) },
        sound: {
          ...song.region.sound,
          ride: [
            { at: 0, db: 0 },
            { at: 1, db: -1 },
          ],
          equaliser: [{ kind: 'bell', hz: 900, db: -1.5, q: 0.7 }],
          compressor: { threshold: -20, ratio: 2, attack: 10, release: 100, knee: 6, makeup: 0 } as never,
          limiter: { drive: 0, ceiling: -1, release: 100 } as never,
        },
      },
      marks: {
        ...song.marks,
        indexes: [ticks(705_600_000)],
        markLead: ticks(0),
        pauseDelay: ticks(0),
        loudest: ticks(0),
        tempo: { bpm: 120, bar: 4, beat: ticks(0) },
      },
      alternates: { instrumental: { master: song.region.master, shift: ticks(0) } },
    })),
    parts: [
      { medium: 'cd', first: album.songs[0]?.id ?? '', title: '', upc: '', limit: ticks(705_600_000_000) },
    ],
  };
  return JSON.parse(JSON.stringify(full)) as Json;
}

/** Where numbers stand in a document; of lists but the deliverables the last entry. */
function numbersIn(value: Json, path: Path = []): Path[] {
  if (typeof value === 'number') return [path];
  if (value === null || typeof value !== 'object') return [];
  const entries = Array.isArray(value)
    ? [...value.entries()].slice(path[0] === 'deliverables' ? 0 : -1)
    : Object.entries(value);
  return entries.flatMap(([key, child]) => numbersIn(child, [...path, key]));
}

function withValue(value: Json, [key, ...rest]: Path, wanted: number): Json {
  if (key === undefined) return wanted;
  if (Array.isArray(value))
    return value.map((child, i) => (i === key ? withValue(child, rest, wanted) : child));
  const object = value as JsonObject;
  return { ...object, [key]: withValue(object[key] ?? null, rest, wanted) };
}

/** Ten days in ticks, the most that a time may be, and what lies around every bound. */
const TEN_DAYS = 609_638_400_000_000;
const LIMITS = [-1e308, -TEN_DAYS, -1, 0.5, TEN_DAYS, TEN_DAYS + 1];

const ofAttacked = (path: string): string => `/albums/${attacked.id}${path}`;
/** Lists that show all albums: none may fail because of one. */
const LISTS = ['/albums?limit=200', '/renders', '/isrcs', '/keeping'];
/** Views of the attacked album: an answer or one sentence. */
const OWN = [
  ...['', '/masters', '/deliveries', '/revisions', '/isrcs-elsewhere', '/file', '/raw', '/events'],
  ...['/label-copy.pdf', '/loudness.pdf', '/pq-sheet.pdf', '/handovers', '/invitations', '/answers'],
];

/** Saves a document and asks for everything that shows it. @returns whether it was taken */
async function attack(album: Json, orders: boolean): Promise<boolean> {
  const saved = await harness.call<{ version?: number; error?: string }>('PUT', ofAttacked(''), {
    version: attacked.version,
    album,
  });
  expect([200, 400]).toContain(saved.status);
  if (saved.status === 400) {
    expect(saved.body.error).toMatch(/^album\./);
    return false;
  }
  attacked.version += 1;
  await Promise.all([
    ...[...LISTS, `/albums/${sound}`].map(async (path) => {
      const { status } = await harness.fetch(`/api${path}`);
      expect(status, path).toBe(200);
    }),
    ...OWN.map(async (path) => {
      const { status } = await harness.fetch(`/api${ofAttacked(path)}`);
      expect(status, `${path} ${JSON.stringify(album)}`).toBeLessThan(500);
    }),
  ]);
  if (orders) {
    const { status } = await harness.call('POST', ofAttacked('/deliveries'), {});
    expect([202, 422]).toContain(status);
    const copy = await harness.call<{ id: string }>('POST', ofAttacked('/duplicate'));
    expect(copy.status).toBe(201);
    await harness.call('DELETE', `/albums/${copy.body.id}`);
    await harness.work();
  }
  return true;
}

describe('an album with numbers at their limits', () => {
  it('breaks no list and no call: every numeric field at every limit', async () => {
    const full = fullAlbum();
    const paths = numbersIn(full);
    expect(paths.length).toBeGreaterThan(40);
    expect(await attack(full, true)).toBe(true);
    let taken = 0;
    for (const path of paths)
      for (const value of LIMITS) if (await attack(withValue(full, path, value), false)) taken += 1;
    expect(taken).toBeGreaterThan(paths.length);
  }, 300_000);

  it('breaks no list, call or job: fields in pairs', async () => {
    const full = fullAlbum();
    const times = ['in', 'out', 'gapBefore', 'length', 'markLead', 'pauseDelay', 'shift', 'endPause', 'from'];
    const paths = numbersIn(full).filter((path) => times.includes(String(path.at(-1))));
    const some = [-TEN_DAYS, -7_056_000_000, -1, 0, 1, 7_056_000_000, TEN_DAYS];
    await fc.assert(
      fc.asyncProperty(
        ...[fc.constantFrom(...paths), fc.constantFrom(...paths)],
        ...[fc.constantFrom(...some), fc.constantFrom(...some)],
        async (a: Path, b: Path, x: number, y: number) => {
          await attack(withValue(withValue(full, a, x), b, y), true);
        },
      ),
      { numRuns: 30, seed: 29 },
    );
  }, 300_000);
});

import { place } from '@oiseau/album/layout';
import { Programme } from '@oiseau/render';
import { samples, secondsToTicks } from '@oiseau/audio/time';
import type { PcmSource } from '@oiseau/audio/pcm';
import type { Sequence } from '@oiseau/album/model';
import { sequence as sequenceOf, sequenced } from '@oiseau/album/testing';
import { describe, expect, it } from 'vitest';
import { Feed, type Programmes } from './feed.js';
import { RAMP } from './ramp.js';
import type { AudioChunk, Heard } from './protocol.js';
import { songsOfRates } from './warm-up.js';

const s = secondsToTicks;
const RATE = 44_100;
const stretch = (from: number, until: number) => ({ start: samples(from), end: samples(until) });

/** A master whose samples look like noise. */
const master = (rate: number, seconds: number, seed: number): PcmSource => ({
  rate,
  length: rate * seconds,
  format: 'int24',
  read: (start, count) => {
    const value = (n: number): number =>
      n < 0 || n >= rate * seconds ? 0 : ((((n + seed) * 48_271) % 4_000_000) - 2_000_000) / 8_388_608;
    const left = Float64Array.from({ length: count }, (_, i) => value(start + i));
    return Promise.resolve({ left, right: left.map((v) => -v) });
  },
});
const masters = new Map([
  ['a', master(44_100, 4, 1)],
  ['b', master(96_000, 4, 2)],
  ['c', master(48_000, 3, 3)],
]);
/** Fades, an overlap, a gain, and masters at three rates. */
const sequence = (gap = 1): Sequence =>
  sequenceOf(
    sequenced('a', 0, {
      ...{ master: 'a', in: s(0.1), out: s(4), gainDb: -1.5 },
      fadeOut: { length: s(1), shape: 'cosine' },
    }),
    sequenced('b', 3.5, { master: 'b', gapBefore: s(-0.7), fadeIn: { length: s(0.7), shape: 'fast' } }),
    sequenced('c', 3, { master: 'c', gapBefore: s(gap), gainDb: 2 }),
  );
const programme = (gap?: number): Programme => new Programme(sequence(gap), masters, RATE);
const alone = (gap?: number): Programmes => ({ own: programme(gap), other: null });

/** Everything that a feed gives, or its first chunks. */
async function all(feed: Feed, most = Infinity): Promise<AudioChunk[]> {
  const chunks: AudioChunk[] = [];
  for (let chunk = await feed.next(); chunk; chunk = await feed.next()) {
    chunks.push(chunk);
    if (chunks.length >= most) break;
  }
  return chunks;
}
const samplesOf = (chunks: readonly AudioChunk[]): number[] => chunks.flatMap(({ left }) => [...left]);
/** What a render of the same stretch holds before dither, in the words that a player takes. */
const rendered = async (of: Programme, from: number, until: number): Promise<number[]> => [
  ...Float32Array.from((await of.read(from, until - from)).left),
];
const difference = (a: readonly number[], b: readonly number[]): number =>
  a.length === b.length ? a.findIndex((value, i) => value !== b[i]) : -2;

describe('what the player is fed with', () => {
  it('is the programme, sample for sample, from any place on', async () => {
    const whole = programme();
    for (const from of [0, 100_000, 3 * RATE + 7]) {
      const chunks = await all(new Feed(1, from, alone(), null));
      expect(difference(samplesOf(chunks), await rendered(whole, from, whole.length))).toBe(-1);
      expect(chunks.map(({ last }) => last)).toEqual([...chunks.slice(1).map(() => false), true]);
      expect(chunks[0]?.left.length).toBe(2940);
    }
  });

  it('is single stretches one after the other, ramped at their edges and nowhere else', async () => {
    const heard: Heard = {
      stretches: [stretch(100_000, 120_000), stretch(200_000, 210_000)],
      loop: false,
    };
    const found = samplesOf(await all(new Feed(1, 100_000, alone(), heard)));
    const wanted = [
      ...(await rendered(programme(), 100_000, 120_000)),
      ...(await rendered(programme(), 200_000, 210_000)),
    ];
    expect(found.length).toBe(30_000);
    const inner = (values: number[]): number[] => [
      ...values.slice(RAMP, 20_000 - RAMP),
      ...values.slice(20_000 + RAMP, -RAMP),
    ];
    expect(difference(inner(found), inner(wanted))).toBe(-1);
    for (const edge of [0, 19_999, 20_000, 29_999])
      expect(Math.abs(found[edge] ?? 1)).toBeLessThan(Math.abs(wanted[edge] ?? 0) / 100 + 1e-9);
  });

  it('comes round again in a loop, for as long as it is asked', async () => {
    const heard: Heard = { stretches: [stretch(5000, 15_000)], loop: true };
    const chunks = await all(new Feed(1, 5000, alone(), heard), 12);
    expect(chunks.some(({ last }) => last)).toBe(false);
    const starts = chunks.filter(({ position }) => position === 5000);
    expect(starts.length).toBeGreaterThan(2);
  });

  it('goes back to a moment that was given and not heard yet, and is the edited programme from there on', async () => {
    const feed = new Feed(1, 9 * RATE, alone(), { stretches: [stretch(8 * RATE, 11 * RATE)], loop: false });
    const given = samplesOf(await all(feed, 3)).length;
    feed.use(alone(0.2));
    feed.goBackTo(4000);
    const after = await all(feed, 2);
    expect(after[0]).toMatchObject({ time: 4000, position: 9 * RATE + 4000 });
    const count = samplesOf(after).length;
    const edited = await rendered(programme(0.2), 9 * RATE + 4000, 9 * RATE + 4000 + count);
    expect(difference(samplesOf(after), edited)).toBe(-1);
    // What was not given yet is no place to go back to.
    feed.goBackTo(given + 10 * RATE);
    expect(feed.time).toBe(4000 + count);
  });

  it('gives what is heard instead beside it, of the same moment', async () => {
    const both = { own: programme(), other: programme(0.2) };
    const chunks = await all(new Feed(1, 9 * RATE, both, null), 2);
    const other = chunks.flatMap((chunk) => [...(chunk.other?.left ?? [])]);
    expect(difference(other, await rendered(programme(0.2), 9 * RATE, 9 * RATE + other.length))).toBe(-1);
    expect(other.length).toBe(samplesOf(chunks).length);
  });

  it('follows its stretch when an edit moves it', async () => {
    const feed = new Feed(1, 5000, alone(), { stretches: [stretch(5000, 200_000)], loop: false });
    await all(feed, 1);
    feed.hearInstead({ stretches: [stretch(5000, 20_000)], loop: false });
    const rest = await all(feed);
    expect(5000 + 2940 + samplesOf(rest).length).toBe(20_000);
    expect(rest.at(-1)?.last).toBe(true);
  });
});

describe('warming up', () => {
  it('computes a moment of a song at each rate, also where a hidden song comes first', () => {
    const of = sequence();
    const [first, ...rest] = of.songs;
    const hidden = { ...of, songs: first ? [{ ...first, numbered: false }, ...rest] : [] };
    const info = (rate: number) => ({ url: String(rate), info: { rate } }) as never;
    const read = new Map([
      ['a', info(44_100)],
      ['b', info(96_000)],
      ['c', info(48_000)],
    ]);
    // Songs from 2 to 5.9 s, from 5.2 to 8.7 s and from 9.7 s on.
    const found = [...songsOfRates(hidden, read, place(hidden))].map(([rate, { start }]) => [rate, start]);
    expect(found).toEqual([
      [44_100, s(2)],
      [96_000, s(5.2)],
      [48_000, s(9.7)],
    ]);
  });
});

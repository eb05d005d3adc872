import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { nameOfSide, sideQuestion, type SideFigures } from '@oiseau/album/measured';
import { layOutAlbum } from '@oiseau/album/layout';
import type { PcmSource } from '@oiseau/audio/pcm';
import { checkAlbum, wordFinding } from '@oiseau/checks';
import { album } from '@oiseau/album/testing';
import { secondsToTicks } from '@oiseau/audio/time';
import { measureSide } from './measure-side.js';

const RATE = 44_100;
const MASTER = 'ab'.repeat(32);
const sine = (hz: number, n: number): number => Math.sin((2 * Math.PI * hz * n) / RATE);

/** A side of one song whose channels are functions of the second and the sample. */
const side = (seconds: number, left: (second: number, n: number) => number, right = left) => {
  const length = seconds * RATE;
  const at = (channel: typeof left) => (n: number) =>
    n < 0 || n >= length ? 0 : channel(Math.floor(n / RATE), n);
  const of = (channel: typeof left, start: number, count: number): Float64Array =>
    Float64Array.from({ length: count }, (_, i) => at(channel)(start + i));
  const master: PcmSource = {
    ...{ rate: RATE, length, format: 'float64' },
    read: (start, count) => Promise.resolve({ left: of(left, start, count), right: of(right, start, count) }),
  };
  const masters = new Map([[MASTER, master]]);
  const subject = {
    ...album({ master: MASTER }),
    parts: [{ ...({ medium: 'vinyl-7-45', first: 't1', title: '', upc: '', limit: null } as const) }],
  };
  const parts = layOutAlbum(subject, masters);
  const question = sideQuestion(parts[0]);
  if (!question) throw new Error('no side');
  const findings = (figures: SideFigures): string[] =>
    checkAlbum({ album: subject, parts, masters, sides: new Map([[nameOfSide(question), figures]]) }).flatMap(
      (finding) =>
        ['bass-against', 'bass-wide', 'bright-inside'].includes(finding.code)
          ? [english(wordFinding(finding))]
          : [],
    );
  return { measured: () => measureSide(question, masters), findings };
};

describe('what a lathe minds of a side', () => {
  it('is its level and its width, second by second', async () => {
    // Half of full scale on the left alone: −9.03 dB there, −12.04 dB as the mean of both, and as much side as middle.
    const alone = await side(
      3,
      (second, n) => (second === 1 ? 0 : 0.5 * sine(1000, n)),
      () => 0,
    ).measured();
    expect(alone.course.levelDb).toEqual([-12, -96, -12]);
    expect(alone.course.widthDb[0]).toBe(0);
    // Both alike: nothing to the sides.
    expect((await side(1, (_, n) => 0.5 * sine(1000, n)).measured()).course.widthDb[0]).toBeLessThan(-70);
  });

  it('is bass that works against itself, at its second, and no treble that does', async () => {
    const { measured, findings } = side(
      12,
      (_, n) => 0.4 * sine(60, n) + 0.2 * sine(3000, n),
      (second, n) => (second === 7 ? -0.4 : 0.4) * sine(60, n) - 0.2 * sine(3000, n),
    );
    const figures = await measured();
    expect(figures.bassCorrelation?.at).toBe(7);
    expect(figures.bassCorrelation?.value).toBeLessThan(-0.9);
    expect(findings(figures)).toEqual([
      expect.stringMatching(/^At 0:07 the bass is out of phase \(correlation −(0\.9|1\.0)/),
    ]);
    const plain = await side(
      4,
      (_, n) => 0.4 * sine(60, n),
      (_, n) => 0.4 * sine(60, n) - 0.2 * sine(3000, n),
    ).measured();
    expect(plain.bassCorrelation?.value).toBeGreaterThan(0.99);
  });

  it('is bass that lies wide', async () => {
    // Left 0.5, right 0.2: middle 0.35, side 0.15, which is −7.4 dB.
    const { measured, findings } = side(
      3,
      (_, n) => 0.5 * sine(60, n),
      (_, n) => 0.2 * sine(60, n),
    );
    const figures = await measured();
    expect(figures.bassWidthDb?.value).toBeCloseTo(-7.4, 1);
    expect(findings(figures)).toEqual([expect.stringMatching(/bass is wide: side is −7\.4 dB/)]);
  });

  it('is a last third that is brighter', async () => {
    const loud = (second: number): number => (second >= 6 ? (second === 8 ? 0.2 : 0.1) : 0.05);
    const { measured, findings } = side(9, (second, n) => loud(second) * sine(10_000, n));
    const figures = await measured();
    // Mean square 1, 1, 4 in units of 0.1² against 0.25 before: 8 times, 9 dB.
    expect(figures.brighterDb?.at).toBe(8);
    expect(figures.brighterDb?.value).toBeCloseTo(9, 0);
    expect(findings(figures)).toEqual([
      expect.stringMatching(/^The last third of the side is 9\.\d dB brighter .* most at 0:08/),
    ]);
    expect(findings(await side(9, (_, n) => 0.1 * sine(10_000, n)).measured())).toEqual([]);
  });

  it('is nothing of what does not move a cutter', async () => {
    const { bassCorrelation, bassWidthDb, brighterDb } = await side(
      3,
      (_, n) => 0.001 * sine(60, n),
    ).measured();
    expect([bassCorrelation, bassWidthDb, brighterDb]).toEqual([null, null, null]);
  });
});

describe('lengths of sides', () => {
  const facts = new Map([[MASTER, { rate: RATE, length: 3600 * RATE }]]);
  const found = (...minutes: number[]): string[] => {
    const subject = {
      ...album(...minutes.map((each) => ({ master: MASTER, out: secondsToTicks(60 * each) }))),
      parts: minutes.map((_, i) => ({
        ...{ medium: 'vinyl-12-33' as const, first: `t${i + 1}`, title: '', upc: '', limit: null },
      })),
    };
    return checkAlbum({ album: subject, masters: facts, parts: layOutAlbum(subject, facts) })
      .filter(({ code }) => code.startsWith('side'))
      .map((each) => english(wordFinding(each)));
  };

  it('are told where they cut softer, are too long, or lie far apart', () => {
    expect(found(18, 17)).toEqual([]);
    expect(found(18.5, 17)).toEqual(['The side is 18:30 long; over 18:00 it must be cut at a lower level.']);
    expect(found(25, 24)[0]).toBe('The side is 25:00 long; the maximum is 24:00.');
    expect(found(18, 14.5)).toEqual(['The side is 3:30 longer than side B of the same record.']);
    // Sides of two records have nothing to do with each other.
    expect(found(17, 17, 10, 10)).toEqual([]);
  });
});

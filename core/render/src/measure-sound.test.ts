import { describe, expect, it } from 'vitest';
import {
  heardFigures,
  nameOfSound,
  partSound,
  songSound,
  soundsOf,
  type MeasuredSound,
} from '@oiseau/album/measured';
import { layOutAlbum } from '@oiseau/album/layout';
import { NO_ALBUM_TREATMENT, NO_TREATMENT, type Treatment } from '@oiseau/audio/stages';
import type { Measurement } from '@oiseau/audio/measure';
import { album, withSong } from '@oiseau/album/testing';
import { sampleSource } from '@oiseau/audio/testing';
import { secondsToTicks } from '@oiseau/audio/time';
import { measureSound } from './measure-sound.js';

const RATE = 48_000;
const MASTER = 'ab'.repeat(32);

/** A sine in both channels. @param level linear, at a time in seconds */
const tone = (seconds: number, level: (t: number) => number, hz = 997) =>
  sampleSource(
    Float64Array.from(
      { length: seconds * RATE },
      (_, n) => level(n / RATE) * Math.sin((2 * Math.PI * hz * n) / RATE),
    ),
    RATE,
  );
const soundWith = (change: Partial<Treatment>, gainDb = 0): MeasuredSound => ({
  ...{ kind: 'song', master: MASTER, gainDb, sound: { ...NO_TREATMENT, ...change } },
});

describe('what is measured of a treated song', () => {
  it('is that of its master with the gain and what is done after it', async () => {
    // A sine of 997 Hz in both channels at −20 dBFS measures −20 LUFS [EBU Tech 3341].
    const masters = new Map([[MASTER, tone(8, () => 0.1)]]);
    const { figures, outline } = await measureSound(soundWith({ ride: -6 }, 2), masters);
    expect(figures.measurement.integratedLufs).toBeCloseTo(-24, 1);
    expect(figures.measurement.truePeakDbtp).toBeCloseTo(-24, 1);
    expect(figures.limiter).toBeNull();
    expect(outline.silhouette).toHaveLength(2 * 8 * 75);
    expect(outline.powers).toHaveLength(80);
  });

  it('tells what compressor and limiter take away, where and how often', async () => {
    // Twice for a second 6 dB louder than else.
    const isLoud = (t: number): boolean => (t >= 2 && t < 3) || (t >= 5 && t < 6);
    const masters = new Map([[MASTER, tone(8, (t) => (isLoud(t) ? 0.8 : 0.4))]]);
    // The loud seconds exceed it by 5.82 dB; the limiter aims 0.035 dB lower and may read peaks some hundredths high.
    const ceiling = 20 * Math.log10(0.4) + 0.2;
    const limiter = { drive: 0, ceiling, release: 20 };
    const { figures, outline } = await measureSound(soundWith({ limiter }), masters);
    expect(figures.limiter?.mostDb).toBeCloseTo(5.9, 1);
    expect(figures.limiter?.times).toBe(2);
    // Two of eight seconds, and what is given back after each.
    expect(figures.limiter?.share).toBeGreaterThan(0.25);
    expect(figures.limiter?.share).toBeLessThan(0.3);
    expect(figures.measurement.truePeakDbtp).toBeLessThan(ceiling + 0.05);
    const takenAt = (seconds: number): number => outline.reductions[2 * Math.floor(75 * seconds) + 1] ?? 0;
    expect([takenAt(1), takenAt(2.5), takenAt(4), takenAt(5.5)]).toEqual([0, 59, 0, 59]);

    const compressor = { threshold: -14, ratio: 4, attack: 5, release: 50, knee: 0, makeup: 3 };
    const pressed = await measureSound(soundWith({ compressor }), masters);
    // −7.96 and −1.94 dB RMS: 6.04 and 12.06 over the threshold, three quarters of which go.
    const compressedAt = (seconds: number): number =>
      pressed.outline.reductions[2 * Math.floor(75 * seconds)] ?? 0;
    expect(compressedAt(1)).toBeCloseTo(45, -0.5);
    expect(compressedAt(2.8)).toBeCloseTo(90, -0.5);
    expect(pressed.figures.compressor?.mostDb).toBeCloseTo(9, 0);
  });

  it('of a part is that of each song where it sounds, after everything', async () => {
    const two = {
      ...album({ master: MASTER, gapBefore: secondsToTicks(2) }, { master: MASTER, gainDb: -4 }),
      sound: { ...NO_ALBUM_TREATMENT, limiter: { drive: 6, ceiling: -1, release: 50 } },
    };
    const masters = new Map([[MASTER, tone(6, () => 0.1)]]);
    const [part] = layOutAlbum(two, masters);
    const sound = partSound(part);
    if (!sound) throw new Error('no sound');
    const { figures } = await measureSound(sound, masters);
    // Driven by 6 dB: −14 and −18 LUFS, far below the ceiling.
    expect(figures.songs.t1?.integratedLufs).toBeCloseTo(-14, 1);
    expect(figures.songs.t2?.integratedLufs).toBeCloseTo(-18, 1);
    expect(figures.limiter).toMatchObject({ mostDb: 0, times: 0 });
    const known = new Map([[nameOfSound(sound), figures]]);
    expect(heardFigures(part, () => null, known).get('t2')?.truePeakDbtp).toBeCloseTo(-18, 1);
    // Of another state of the album nothing is known.
    const [other] = layOutAlbum(withSong(two, 1, { gainDb: -3 }), masters);
    expect(heardFigures(other, () => null, known).size).toBe(0);
  });
});

describe('figures of what is heard', () => {
  const measured = { integratedLufs: -16, truePeakDbtp: -2, samplePeakDbfs: -2.1 } as Measurement;
  const masters = new Map([[MASTER, { rate: RATE, length: 60 * RATE }]]);

  it('are those of a master with a gain where nothing else is done, and of the treated sound where it is known', () => {
    const sound = { ...NO_TREATMENT, ride: -3 };
    const of = album({ master: MASTER, gainDb: 2 }, { master: MASTER, sound });
    const [part] = layOutAlbum(of, masters);
    const none = heardFigures(part, () => measured, new Map());
    expect(none.get('t1')).toMatchObject({ integratedLufs: -14, truePeakDbtp: 0 });
    expect(none.has('t2')).toBe(false);
    const [asked] = soundsOf([part]);
    if (!asked) throw new Error('nothing to measure');
    const figures = {
      measurement: { ...measured, integratedLufs: -19 },
      songs: {},
      compressor: null,
      limiter: null,
    };
    const known = heardFigures(part, () => measured, new Map([[nameOfSound(asked), figures as never]]));
    expect(known.get('t2')?.integratedLufs).toBe(-19);
  });

  it('need no measuring where nothing is done, or what is done is nothing', () => {
    const neutral = { ...NO_TREATMENT, equaliser: [{ kind: 'bell', hz: 1000, db: 0, q: 1 } as const] };
    const [part] = layOutAlbum(
      album({ master: MASTER, gainDb: 3 }, { master: MASTER, sound: neutral }),
      masters,
    );
    expect(soundsOf([part])).toEqual([]);
    expect(part.sequence.songs.map(({ region }) => songSound(region))).toEqual([null, null]);
  });

  it('stay with a song that is trimmed, since its whole master is measured', () => {
    const sound = { ...NO_TREATMENT, ride: -3 };
    const names = [0, 5].map((start) => {
      const [part] = layOutAlbum(album({ master: MASTER, sound, in: secondsToTicks(start) }), masters);
      return soundsOf([part]).map(nameOfSound);
    });
    expect(names[0]).toEqual(names[1]);
  });
});

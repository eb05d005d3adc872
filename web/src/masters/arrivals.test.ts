import type { MasterRecord } from '@oiseau/api';
import { newSong } from '@oiseau/album/model';
import { Silhouette } from '@oiseau/audio/measure';
import { describe, expect, it } from 'vitest';
import { sortArrivals } from './arrivals.js';

const sha = (letter: string): string => letter.repeat(64);
const master = (
  letter: string,
  name: string,
  seconds: number,
  change: Partial<MasterRecord> = {},
): MasterRecord =>
  ({
    ...{ sha256: sha(letter), name, awaits: false, measurement: {}, replaces: null },
    info: { rate: 44_100, length: 44_100 * seconds },
    ...change,
  }) as MasterRecord;
const awaited = (
  letter: string,
  name: string,
  seconds: number,
  change: Partial<MasterRecord> = {},
): MasterRecord => master(letter, name, seconds, { awaits: true, ...change });
const album = { songs: [newSong('1', sha('a'), 'Lamp'), newSong('2', sha('b'), 'Oil')] };
const here = [master('a', 'Lamp.wav', 60), master('b', 'Oil.wav', 90)];
/** An outline of a minute that moves in its own way. */
const outline = (speed: number): Silhouette =>
  new Silhouette(Uint16Array.from({ length: 9000 }, (_, i) => 9000 + 8000 * Math.sin(speed * (i >> 1))));
const names = (list: readonly MasterRecord[]): string[] => list.map(({ name }) => name);

describe('what came in', () => {
  it('becomes tracks in the order of the names, but for what looks like a newer version', () => {
    const came = [
      awaited('d', '10 Salt.wav', 33),
      awaited('e', 'Lamp_v2.wav', 61),
      awaited('f', '9 Ebb.wav', 34),
    ];
    const found = sortArrivals(album, [...here, ...came], new Map());
    expect(names(found.tracks)).toEqual(['9 Ebb.wav', '10 Salt.wav']);
    expect(found.offers).toMatchObject([{ newer: sha('e'), older: sha('a'), byName: true }]);
  });

  it('of one length waits for its sound to say what it is', () => {
    const came = awaited('d', 'bounce.wav', 60, {
      measurement: null,
      job: { state: 'running', share: 0, message: null },
    });
    expect(sortArrivals(album, [...here, came], new Map())).toEqual({ offers: [], tracks: [] });
    const measured = awaited('d', 'bounce.wav', 60);
    const outlines = (own: number) =>
      new Map([
        [sha('a'), outline(0.01)],
        [sha('d'), outline(own)],
      ]);
    expect(sortArrivals(album, [...here, measured], outlines(0.01)).offers).toHaveLength(1);
    expect(names(sortArrivals(album, [...here, measured], outlines(0.0173)).tracks)).toEqual(['bounce.wav']);
  });

  it('and can’t be measured is a track, not something that waits for ever', () => {
    const failed = awaited('d', 'bounce.wav', 60, {
      measurement: null,
      job: { state: 'failed', share: 0, message: 'x' },
    });
    expect(names(sortArrivals(album, [...here, failed], new Map()).tracks)).toEqual(['bounce.wav']);
  });

  it('is nothing where all is settled, or a song plays it already', () => {
    expect(sortArrivals(album, here, new Map())).toEqual({ offers: [], tracks: [] });
    expect(sortArrivals(album, [awaited('a', 'Lamp.wav', 60)], new Map())).toEqual({
      offers: [],
      tracks: [],
    });
  });
});

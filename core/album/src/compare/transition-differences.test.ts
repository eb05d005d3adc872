import { expect, it } from 'vitest';
import { secondsToTicks } from '@oiseau/audio/time';
import { layOutAlbum } from '../layout/part.js';
import type { Album } from '../model/album.js';
import { album } from '../testing.js';
import { differingTransitions } from './transition-differences.js';

const base = album({ title: 'A' }, { title: 'B' }, { title: 'C' }, { title: 'D' });
const facts = new Map(base.songs.map(({ region }) => [region.master, { rate: 44_100, length: 441_000 }]));
const order = (ids: readonly string[], of = base): Album => ({
  ...of,
  songs: ids.flatMap((id) => of.songs.filter((song) => song.id === id)),
});
const differing = (a: Album, b: Album): string[] =>
  differingTransitions(layOutAlbum(a, facts), layOutAlbum(b, facts)).map(
    ({ before, after }) => `${before?.title ?? ''}${after.title}`,
  );

it('are those between two tracks that the other order does not have', () => {
  expect(differing(base, base)).toEqual([]);
  expect(differing(base, order(['t1', 't3', 't2', 't4']))).toEqual(['AB', 'BC', 'CD']);
  expect(differing(order(['t1', 't3', 't2', 't4']), base)).toEqual(['AC', 'CB', 'BD']);
  expect(differing(order(['t3', 't4', 't1', 't2']), base)).toEqual(['DA']);
});

it('are those with another gap as well', () => {
  const wider = {
    ...base,
    songs: base.songs.map((song) =>
      song.id === 't3' ? { ...song, region: { ...song.region, gapBefore: secondsToTicks(7) } } : song,
    ),
  };
  expect(differing(base, wider)).toEqual(['BC']);
});

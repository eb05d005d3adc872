import { layOutAlbum } from '@oiseau/album/layout';
import { album } from '@oiseau/album/testing';
import { describe, expect, it } from 'vitest';
import { droppedAt, placeBeside } from './track-places.js';

const opens = (first: string) => ({ medium: 'cd' as const, first, title: '', upc: '', limit: null });
/** t1 t2 | t3 t4 | t5 */
const parts = layOutAlbum(
  { ...album({}, {}, {}, {}, {}), parts: ['t1', 't3', 't5'].map(opens) },
  new Map([['ab'.repeat(32), { rate: 44_100, length: 44_100 }]]),
);
const at = (place: { part: number; to: number } | null): string =>
  place ? `${place.part}.${place.to}` : '–';

describe('a track that is dropped', () => {
  it('goes where the row stands, in its own part and in another', () => {
    const dropped = (dragged: string, over: string): string => at(droppedAt(parts, dragged, over));
    expect([dropped('t1', 't2'), dropped('t2', 't1')]).toEqual(['1.1', '1.0']);
    // From above it passes the row, from below it pushes it on.
    expect([dropped('t1', 't3'), dropped('t1', 't4')]).toEqual(['2.1', '2.2']);
    expect([dropped('t4', 't1'), dropped('t5', 't3')]).toEqual(['1.0', '2.0']);
    expect(dropped('t9', 't1')).toBe('–');
  });

  it('goes over the border where it is dropped on a heading', () => {
    const dropped = (dragged: string, number: number): string =>
      at(droppedAt(parts, dragged, `part:${number}`));
    expect([dropped('t3', 2), dropped('t5', 2), dropped('t5', 3)]).toEqual(['1.2', '1.2', '2.2']);
    expect([dropped('t1', 2), dropped('t2', 3), dropped('t4', 1)]).toEqual(['2.0', '3.0', '1.0']);
  });
});

describe('the place beside a track', () => {
  it('is over the border at the end of a part', () => {
    const beside = (id: string, by: -1 | 1): string => at(placeBeside(parts, id, by));
    expect([beside('t1', -1), beside('t1', 1), beside('t2', 1)]).toEqual(['–', '1.1', '2.0']);
    expect([beside('t3', -1), beside('t5', -1), beside('t5', 1)]).toEqual(['1.2', '2.2', '–']);
  });
});

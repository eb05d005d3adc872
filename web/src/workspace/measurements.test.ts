// @vitest-environment happy-dom
import type { AlbumRecord, MasterRecord } from '@oiseau/api';
import { editRegion, editSound } from '@oiseau/album/edits';
import { soundsOf } from '@oiseau/album/measured';
import { album as albumOf } from '@oiseau/album/testing';
import { QueryClient } from '@tanstack/react-query';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createAlbumStore } from './album-store.js';
import { Measurements } from './measurements.js';

/** What the server was asked; it never has anything measured. */
const asked: string[] = [];
const bodies: string[] = [];
beforeEach(() => {
  vi.useFakeTimers();
  asked.length = 0;
  bodies.length = 0;
  vi.stubGlobal('fetch', (address: string, { body }: RequestInit) => {
    asked.push(address);
    bodies.push(String(body));
    const { sounds } = JSON.parse(String(body)) as { sounds: unknown[] };
    const answer = sounds.map(() => ({
      key: 'a'.repeat(64),
      figures: null,
      job: { state: 'queued', share: 0, message: null },
    }));
    return Promise.resolve(new Response(JSON.stringify(answer), { status: 200 }));
  });
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

const MASTER = { sha256: 'a', info: { rate: 44_100, length: 441_000 } } as MasterRecord;
const limiter = { drive: 3, ceiling: -1, release: 80 };

function open() {
  const album = editSound(albumOf({ master: 'a' }), 't1', (sound) => ({ ...sound, limiter }));
  const record: AlbumRecord = { id: 'id', version: 1, album, updatedAt: '2026-11-01T10:00:00.000Z' };
  const store = createAlbumStore(record, [MASTER], {
    save: () => Promise.resolve(2),
    since: () => Promise.resolve([]),
  });
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const measurements = new Measurements('id', store, queries);
  return { store, measurements, leave: measurements.attend() };
}

describe('what is measured of an album', () => {
  it('is asked for at once, and again when the sound has rested after an edit', async () => {
    const { store, measurements, leave } = open();
    await vi.advanceTimersByTimeAsync(10);
    expect(asked).toEqual(['/api/albums/id/sounds']);
    const [sound] = soundsOf(store.state().parts);
    if (!sound) throw new Error('nothing to measure');
    expect(measurements.known.recordOf(sound)?.job?.state).toBe('queued');
    for (const gainDb of [1, 2, 3]) {
      store.edit('gain', (before) => editRegion(before, 't1', { gainDb }));
      await vi.advanceTimersByTimeAsync(50);
    }
    await vi.advanceTimersByTimeAsync(500);
    // 550 ms after the last edit nothing new was asked, 620 ms after it once.
    expect(new Set(bodies).size).toBe(1);
    await vi.advanceTimersByTimeAsync(70);
    expect(new Set(bodies).size).toBe(2);
    expect(bodies.at(-1)).toContain('"gainDb":3');
    leave();
  });

  it('is asked for again while it is measured, and not after somebody has left', async () => {
    const { leave } = open();
    await vi.advanceTimersByTimeAsync(2000);
    expect(asked.length).toBeGreaterThanOrEqual(3);
    leave();
    const before = asked.length;
    await vi.advanceTimersByTimeAsync(5000);
    expect(asked).toHaveLength(before);
  });

  it('tells who listens when there is an answer, and not when a question is on its way', async () => {
    const { measurements, leave } = open();
    const heard = vi.fn();
    measurements.subscribe(heard);
    await vi.advanceTimersByTimeAsync(10);
    expect(heard).toHaveBeenCalledTimes(1);
    leave();
  });

  it('is nothing where nothing is done to the sound', async () => {
    const record = { id: 'id', version: 1, album: albumOf({ master: 'a' }) } as AlbumRecord;
    const store = createAlbumStore(record, [MASTER], {
      save: () => Promise.resolve(2),
      since: () => Promise.resolve([]),
    });
    const leave = new Measurements('id', store, new QueryClient()).attend();
    await vi.advanceTimersByTimeAsync(1000);
    expect(asked).toEqual([]);
    leave();
  });
});

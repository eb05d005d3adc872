// @vitest-environment happy-dom
import type { AlbumRecord, MasterRecord } from '@oiseau/api';
import { beginPart, editRegion, setAlternate } from '@oiseau/album/edits';
import { MAIN, type Album } from '@oiseau/album/model';
import { album as albumOf } from '@oiseau/album/testing';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Guest } from '../player/guest.js';
import type { Player, PlayerState } from '../player/player.js';
import type { PlayerProgramme } from '../player/protocol.js';
import { createAlbumStore, type AlbumStore } from './album-store.js';
import { Playback } from './playback.js';

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

/** A player as far as it is told anything: what it was given, and where it is. */
class Told {
  state = { playing: false, hearing: false, position: 0, starts: 0 } as PlayerState;
  readonly programmes: { programme: PlayerProgramme; soon: boolean }[] = [];
  readonly plays: number[] = [];
  onStart: (() => void) | undefined;
  onEnd: (() => void) | undefined;
  #listeners = new Set<() => void>();
  subscribe = (listener: () => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  become(change: Partial<PlayerState>): void {
    this.state = { ...this.state, ...change };
    for (const listener of this.#listeners) listener();
  }
  setProgramme(programme: PlayerProgramme, soon = false): void {
    this.programmes.push({ programme, soon });
  }
  seek(position: number): void {
    this.become({ position });
  }
  stop(): void {
    this.become({ playing: false });
  }
  play(position: number): Promise<void> {
    this.onStart?.();
    this.plays.push(position);
    this.become({ playing: true, position, starts: this.state.starts + 1 });
    return Promise.resolve();
  }
}

const MASTERS = ['a', 'b', 'other'].map(
  (sha256) => ({ sha256, info: { rate: 44_100, length: 441_000 } }) as MasterRecord,
);
const twoSongs = (): Album => albumOf({ master: 'a' }, { master: 'b' });
const open = (album: Album = twoSongs()) => {
  const record: AlbumRecord = { id: 'id', version: 1, album, updatedAt: '2026-11-01T10:00:00.000Z' };
  const store = createAlbumStore(record, MASTERS, {
    save: () => Promise.resolve(2),
    since: () => Promise.resolve([]),
  });
  const player = new Told();
  const playback = new Playback(player as unknown as Player, store);
  const leave = playback.attend();
  return { store, player, playback, leave };
};
const louder = (store: AlbumStore, gainDb: number) =>
  store.edit('gain', (before) => editRegion(before, 't1', { gainDb }));
const gains = ({ programmes }: Told) =>
  programmes.map(({ programme }) => programme.sequence.songs[0]?.region.gainDb);
const guest = {
  name: 'a.wav',
  what: 'master',
  programme: { sequence: { songs: [] }, masters: new Map() },
  length: 1,
  playFrom: 7,
};

describe('what is on the player', () => {
  it('is the album, anew for an edit that is heard and for no other', () => {
    const { store, player } = open();
    expect(gains(player)).toEqual([0]);
    expect([...(player.programmes[0]?.programme.masters.keys() ?? [])]).toEqual(['a', 'b']);
    store.edit('title', (before) => ({ ...before, title: 'Ebb' }));
    player.become({ position: 5 });
    expect(gains(player)).toEqual([0]);
    louder(store, 3);
    expect(gains(player)).toEqual([0, 3]);
    store.undo();
    expect(gains(player)).toEqual([0, 3, 0]);
  });

  it('waits for masters that nobody knows yet', () => {
    const { store, player } = open(albumOf({ master: 'unknown' }));
    expect(player.programmes).toEqual([]);
    store.noteMasters([...MASTERS, { ...MASTERS[0], sha256: 'unknown' } as MasterRecord]);
    expect(player.programmes).toHaveLength(1);
  });

  it('is what a drag would make of it, as often as can be heard, and the album again when it was taken back', async () => {
    const { store, player } = open();
    const drag = (gainDb: number) => store.preview((before) => editRegion(before, 't1', { gainDb }));
    drag(1);
    // Nothing is heard of the transition: the drag is silent.
    expect(gains(player)).toEqual([0]);
    player.become({ playing: true, hearing: true });
    for (const gainDb of [2, 3, 4, 5]) drag(gainDb);
    await vi.advanceTimersByTimeAsync(100);
    // The first at once, then the last of those that came meanwhile.
    expect(gains(player)).toEqual([0, 1, 5]);
    expect(player.programmes.at(-1)?.soon).toBe(true);
    store.preview(null);
    expect(gains(player)).toEqual([0, 1, 5, 0]);
    expect(player.programmes.at(-1)?.soon).toBe(false);
    expect(store.state().draft).toBeNull();
  });

  it('is the edit that a drag has become', () => {
    const { store, player } = open();
    player.become({ playing: true, hearing: true });
    store.preview((before) => editRegion(before, 't1', { gainDb: 2 }));
    louder(store, 2);
    expect(gains(player)).toEqual([0, 2, 2]);
    expect(store.state().draft).toBeNull();
  });

  it('is a guest while a view has one, and then the album where it was', () => {
    const { store, player, playback } = open();
    player.seek(1234);
    playback.setGuest(guest as unknown as Guest);
    expect(player.plays).toEqual([7]);
    louder(store, 3);
    expect(player.programmes).toHaveLength(2);
    playback.setGuest(null);
    expect([player.state.position, player.state.playing]).toEqual([1234, false]);
    expect(gains(player).at(-1)).toBe(3);
  });

  it('is the album through a lens while a view has one', () => {
    const { store, player, playback } = open();
    const { sequence } = store.state().part;
    playback.setLens({ sequence, other: sequence, soon: true });
    expect(player.programmes.at(-1)).toMatchObject({ soon: true, programme: { other: sequence } });
    louder(store, 3);
    expect(player.programmes).toHaveLength(2);
    playback.setLens(null);
    expect(gains(player).at(-1)).toBe(3);
  });

  it('is another recording by its name, and the masters where no song has it any more', () => {
    const { store, player, playback } = open();
    store.edit('alternate', (before) => setAlternate(before, 't1', 'Instrumental', 'other'));
    playback.hearRecording('Instrumental');
    expect(player.programmes.at(-1)?.programme.sequence.songs.map(({ region }) => region.master)).toEqual([
      'other',
      'b',
    ]);
    store.undo();
    expect(playback.state.recording).toBe(MAIN);
    expect(player.programmes.at(-1)?.programme.sequence.songs[0]?.region.master).toBe('a');
  });

  it('is nothing of the album’s after the view has gone', async () => {
    const { store, player, leave } = open();
    leave();
    louder(store, 3);
    await vi.advanceTimersByTimeAsync(5000);
    expect(player.programmes).toHaveLength(1);
    expect([player.onStart, player.onEnd]).toEqual([undefined, undefined]);
  });
});

describe('an album of two parts', () => {
  const twoParts = (): Album => beginPart(twoSongs(), 't2', 'cd');
  const heardSong = ({ programmes }: Told) => programmes.at(-1)?.programme.sequence.songs[0]?.id;

  it('plays a part on while another one is looked at, and what is shown when something is played anew', () => {
    const { store, player, playback } = open(twoParts());
    void player.play(0);
    store.showPart(2);
    expect([playback.state.heard, heardSong(player)]).toEqual([1, 't1']);
    void player.play(0);
    expect([playback.state.heard, heardSong(player)]).toEqual([2, 't2']);
  });

  it('goes on with the next part a second after the end of one', async () => {
    const { store, player, playback } = open(twoParts());
    void player.play(0);
    player.become({ playing: false });
    player.onEnd?.();
    expect([store.state().part.number, playback.state.follows]).toEqual([2, 2]);
    await vi.advanceTimersByTimeAsync(1100);
    expect([playback.state.follows, player.plays, heardSong(player)]).toEqual([null, [0, 0], 't2']);
    player.onEnd?.();
    expect(playback.state.follows).toBeNull();
  });
});

import {
  addIndex,
  hideFirstTrack,
  layOutAlbum,
  newAlbum,
  newTrack,
  secondsToTicks,
  showHidden,
  ticks,
  type Album,
  type Track,
} from '@oiseau/core';
import { describe, expect, it } from 'vitest';
import { changeWords } from './change-words.js';

const s = secondsToTicks;
const masters = new Map([['m', { rate: 44_100, length: 60 * 44_100 }]]);
const album: Album = {
  ...newAlbum('Nine Tides'),
  tracks: [newTrack('a', 'm', 'Lamp Lit'), newTrack('b', 'm', 'Lantern Oil'), newTrack('c', 'm', '')],
};
/** The words for a change of the second song. */
const words = (change: Partial<Track>): string =>
  changeWords(album, {
    ...album,
    tracks: album.tracks.map((track) => (track.id === 'b' ? { ...track, ...change } : track)),
  });

describe('an edit in words', () => {
  it.each<[Partial<Track>, string]>([
    [{ gapBefore: s(1.4) }, 'gap before “Lantern Oil” 2 s → 1.4 s'],
    [{ out: s(30) }, 'out point of “Lantern Oil” end → 0:30.000'],
    [{ fadeIn: { length: ticks(0), shape: 'slow' } }, 'fade-in of “Lantern Oil” linear → slow'],
    [{ gainDb: -1.5 }, 'gain of “Lantern Oil” 0.0 dB → −1.5 dB'],
    [{ markLead: s(0.2) }, 'mark lead of “Lantern Oil” as the album → 0.2 s'],
    [{ pauseDelay: s(0.5) }, 'pause before “Lantern Oil” moved'],
    [{ tempo: { bpm: 92.5, bar: 3, beat: ticks(0) } }, 'tempo of “Lantern Oil” none → 92.5 in 3'],
    [{ indexes: [s(10)] }, 'index at 00:10:00 set in “Lantern Oil”'],
  ])('says what %j changed', (change, wanted) => {
    expect(words(change)).toBe(wanted);
  });

  it('names several changes one after the other, and songs without a title', () => {
    const both = { ...album, tracks: album.tracks.map((track) => ({ ...track, gainDb: 1 })) };
    expect(changeWords(album, both)).toBe(
      'gain of “Lamp Lit” 0.0 dB → 1.0 dB, gain of “Lantern Oil” 0.0 dB → 1.0 dB, gain of “Untitled” 0.0 dB → 1.0 dB',
    );
    expect(changeWords(album, { ...album, markLead: s(0.1) })).toBe('mark lead 0 s → 0.1 s');
  });

  it('tells an index that was moved as taken out and set', () => {
    const { layout } = layOutAlbum(album, masters);
    const first = addIndex(album, 0, s(12), layout);
    const moved = addIndex(album, 0, s(20), layout);
    expect(changeWords(first, moved)).toBe(
      'index at 00:18:00 set in “Lamp Lit”, index at 00:10:00 taken out of “Lamp Lit”',
    );
    expect(changeWords(first, album)).toBe('index at 00:10:00 taken out of “Lamp Lit”');
  });

  it('tells of a song that is hidden and shown', () => {
    const hidden = hideFirstTrack(album);
    expect(changeWords(album, hidden)).toBe('“Lamp Lit” hidden before track 1');
    expect(changeWords(hidden, showHidden(hidden))).toBe('“Lamp Lit” shown as track 1');
  });
});

import { addIndex, hideFirstTrack, showHidden } from '@oiseau/album/edits';
import { layOutAlbum } from '@oiseau/album/layout';
import type { Album } from '@oiseau/album/model';
import { secondsToTicks, ticks } from '@oiseau/audio/time';
import { album as albumOf, withSong, type SongChange } from '@oiseau/album/testing';
import { describe, expect, it } from 'vitest';
import { changeWords } from './change-words.js';

const s = secondsToTicks;
const masters = new Map([['m', { rate: 44_100, length: 60 * 44_100 }]]);
const album: Album = albumOf(...['Lamp Lit', 'Lantern Oil', ''].map((title) => ({ master: 'm', title })));
/** The words for a change of the second song. */
const words = (change: SongChange): string => changeWords(album, withSong(album, 1, change));

describe('an edit in words', () => {
  it.each<[SongChange, string]>([
    [{ gapBefore: s(1.4) }, 'gap before “Lantern Oil” 2 s → 1.4 s'],
    [{ out: s(30) }, 'out point of “Lantern Oil” end → 0:30.000'],
    [{ fadeIn: { length: ticks(0), shape: 'slow' } }, 'fade-in of “Lantern Oil” linear → slow start'],
    [{ gainDb: -1.5 }, 'gain of “Lantern Oil” 0.0 dB → −1.5 dB'],
    [{ markLead: s(0.2) }, 'mark lead of “Lantern Oil” default → 0.2 s'],
    [{ pauseDelay: s(0.5) }, 'pause before “Lantern Oil” moved'],
    [{ tempo: { bpm: 92.5, bar: 3, beat: ticks(0) } }, 'tempo of “Lantern Oil” none → 92.5 in 3'],
    [{ indexes: [s(10)] }, 'index at 00:10:00 added to “Lantern Oil”'],
  ])('says what %j changed', (change, wanted) => {
    expect(words(change)).toBe(wanted);
  });

  it('names several changes one after the other, and songs without a title', () => {
    const both = [0, 1, 2].reduce((of, place) => withSong(of, place, { gainDb: 1 }), album);
    expect(changeWords(album, both)).toBe(
      'gain of “Lamp Lit” 0.0 dB → 1.0 dB, gain of “Lantern Oil” 0.0 dB → 1.0 dB, gain of “Untitled” 0.0 dB → 1.0 dB',
    );
    expect(changeWords(album, { ...album, markLead: s(0.1) })).toBe('mark lead 0 s → 0.1 s');
  });

  it('tells an index that was moved as taken out and set', () => {
    const [part] = layOutAlbum(album, masters);
    const first = addIndex(album, 't1', s(12), part);
    const moved = addIndex(album, 't1', s(20), part);
    expect(changeWords(first, moved)).toBe(
      'index at 00:18:00 added to “Lamp Lit”, index at 00:10:00 removed from “Lamp Lit”',
    );
    expect(changeWords(first, album)).toBe('index at 00:10:00 removed from “Lamp Lit”');
  });

  it('tells of a song that is hidden and shown', () => {
    const hidden = hideFirstTrack(album);
    expect(changeWords(album, hidden)).toBe('“Lamp Lit” hidden before track 1');
    expect(changeWords(hidden, showHidden(hidden))).toBe('“Lamp Lit” shown as track 1');
  });
});

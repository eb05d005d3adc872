import { hideFirstTrack } from '@oiseau/album/edits';
import { layOutAlbum } from '@oiseau/album/layout';
import type { Album } from '@oiseau/album/model';
import { secondsToTicks, ticks } from '@oiseau/audio/time';
import { album as albumOf, flat } from '@oiseau/album/testing';
import { describe, expect, it } from 'vitest';
import { fieldPlace, TRACK_FIELDS, typed, typedWords, type TrackFieldName } from './track-fields.js';

const s = secondsToTicks;
const facts = new Map([['m', { rate: 44_100, length: 20 * 44_100 }]]);
/** Three songs of 20 s, the first at 120 beats a minute, the second at 60. */
const album: Album = albumOf(
  { master: 'm', tempo: { bpm: 120, bar: 4, beat: ticks(0) } },
  { master: 'm', tempo: { bpm: 60, bar: 4, beat: ticks(0) } },
  { master: 'm' },
);
const [part] = layOutAlbum(album, facts);
const type = (ids: readonly string[], field: TrackFieldName, text: string, of = album): Album =>
  typed(of, ids, field, text, { part, facts });
const fault = (field: TrackFieldName, text: string, id = 't2', of = album): string | undefined =>
  TRACK_FIELDS[field].fault(text, fieldPlace(of, id));
const each = <T>(of: Album, look: (song: ReturnType<typeof flat>) => T): T[] =>
  of.songs.map((_, place) => look(flat(of, place)));

describe('what is typed into the track table', () => {
  it.each<[string, number]>([
    ['1.5', 1.5],
    ['−0,5 s', -0.5],
    ['250 ms', 0.25],
    ['00:01:15', 1.2],
    ['1:02.5', 62.5],
    ['3 beats', 1.5],
  ])('takes “%s” for a gap', (text, seconds) => {
    expect(fault('gap', text)).toBeUndefined();
    expect(flat(type(['t2'], 'gap', text), 1).gapBefore).toBe(s(seconds));
  });

  it('counts beats of the song before each of several tracks', () => {
    const gaps = each(type(['t2', 't3'], 'gap', '2 beats'), (song) => song.gapBefore);
    // Half a second a beat before the second song, one second before the third.
    expect(gaps).toEqual([s(2), s(1), s(2)]);
    expect(each(type(['t1', 't2'], 'gap', '4 beats'), (song) => song.gapBefore)).toEqual([s(2), s(2), s(2)]);
  });

  it('says what is wrong with a gap', () => {
    expect(fault('gap', 'soon')).toBe('Seconds, 250 ms, 1:02.5, MM:SS:FF or “2 beats”.');
    expect(fault('gap', '2 beats', 't1')).toBe('The previous track has no tempo yet.');
    expect(fault('gap', '-1', 't1')).toBe('There is no previous track.');
    expect(fault('gap', '-1', 't2')).toBeUndefined();
    expect(fault('gap', '90000')).toBe('Enter less than 24 hours.');
    // With a hidden song it is that which stands first.
    const hidden = hideFirstTrack(album);
    expect([fault('gap', '-1', 't2', hidden), fault('gap', '-1', 't1', hidden)]).toEqual([
      undefined,
      'There is no previous track.',
    ]);
  });

  it('moves starts, trims and gains, each within what it may be', () => {
    expect(flat(type(['t2'], 'start', '00:25:00'), 1).gapBefore).toBe(s(3));
    expect(flat(type(['t2'], 'out', '19.5'), 1).out).toBe(s(19.5));
    expect(flat(type(['t2'], 'out', '99'), 1).out).toBe(s(20));
    expect(each(type(['t1', 't3'], 'in', '0.5'), (song) => song.in)).toEqual([s(0.5), 0, s(0.5)]);
    expect(each(type(['t1', 't2', 't3'], 'gain', '−1,5 dB'), (song) => song.gainDb)).toEqual([
      -1.5, -1.5, -1.5,
    ]);
    expect([fault('gain', '25'), fault('gain', '+24'), fault('gain', 'loud')]).toEqual([
      'Enter a gain from −48 to 24 dB.',
      undefined,
      'Enter a gain from −48 to 24 dB.',
    ]);
    expect(fault('out', '2 beats')).toBe('Seconds, 250 ms, 1:02.5 or MM:SS:FF.');
  });

  it('works on the hidden song as well', () => {
    const hidden = hideFirstTrack(album);
    expect(each(type(['t1', 't2'], 'gain', '2', hidden), ({ gainDb }) => gainDb)).toEqual([2, 2, 0]);
  });

  it('is written in the list of undo as it is kept', () => {
    expect([typedWords('gain', '-2'), typedWords('gap', ' 2 beats ')]).toEqual(['−2.0 dB', '2 beats']);
  });
});

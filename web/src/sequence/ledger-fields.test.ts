import {
  hideFirstTrack,
  layOutAlbum,
  newAlbum,
  newTrack,
  secondsToTicks,
  ticks,
  type Album,
} from '@oiseau/core';
import { describe, expect, it } from 'vitest';
import { fieldPlace, LEDGER_FIELDS, typed, typedWords, type LedgerFieldName } from './ledger-fields.js';

const s = secondsToTicks;
const facts = new Map([['m', { rate: 44_100, length: 20 * 44_100 }]]);
/** Three songs of 20 s, the first at 120 beats a minute, the second at 60. */
const album: Album = {
  ...newAlbum('Nine Tides'),
  tracks: [
    { ...newTrack('a', 'm', 'Lamp Lit'), tempo: { bpm: 120, bar: 4, beat: ticks(0) } },
    { ...newTrack('b', 'm', 'Lantern Oil'), tempo: { bpm: 60, bar: 4, beat: ticks(0) } },
    newTrack('c', 'm', 'Neap'),
  ],
};
const { layout } = layOutAlbum(album, facts);
const type = (indexes: readonly number[], field: LedgerFieldName, text: string, of = album): Album =>
  typed(of, indexes, field, text, { layout, facts });
const fault = (field: LedgerFieldName, text: string, index = 1, of = album): string | undefined =>
  LEDGER_FIELDS[field].fault(text, fieldPlace(of, index));

describe('what is typed into the ledger', () => {
  it.each<[string, number]>([
    ['1.5', 1.5],
    ['−0,5 s', -0.5],
    ['250 ms', 0.25],
    ['00:01:15', 1.2],
    ['1:02.5', 62.5],
    ['3 beats', 1.5],
  ])('takes “%s” for a gap', (text, seconds) => {
    expect(fault('gap', text)).toBeUndefined();
    expect(type([1], 'gap', text).tracks[1]?.gapBefore).toBe(s(seconds));
  });

  it('counts beats of the song before each of several tracks', () => {
    const gaps = type([1, 2], 'gap', '2 beats').tracks.map(({ gapBefore }) => gapBefore);
    // Half a second a beat before the second song, one second before the third.
    expect(gaps).toEqual([s(2), s(1), s(2)]);
    expect(type([0, 1], 'gap', '4 beats').tracks.map(({ gapBefore }) => gapBefore)).toEqual([
      s(2),
      s(2),
      s(2),
    ]);
  });

  it('says what is wrong with a gap', () => {
    expect(fault('gap', 'soon')).toBe('Seconds, 250 ms, 1:02.5, MM:SS:FF or “2 beats”.');
    expect(fault('gap', '2 beats', 0)).toBe('The song before has no tempo yet.');
    expect(fault('gap', '-1', 0)).toBe('Nothing stands before the first pause.');
    expect(fault('gap', '-1', 1)).toBeUndefined();
    expect(fault('gap', '90000')).toBe('That is longer than a day.');
    // With a hidden song it is that which stands first.
    const hidden = hideFirstTrack(album);
    expect([fault('gap', '-1', 0, hidden), fault('gap', '-1', -1, hidden)]).toEqual([
      undefined,
      'Nothing stands before the first pause.',
    ]);
  });

  it('moves starts, trims and gains, each within what it may be', () => {
    expect(type([1], 'start', '00:25:00').tracks[1]?.gapBefore).toBe(s(3));
    expect(type([1], 'out', '19.5').tracks[1]?.out).toBe(s(19.5));
    expect(type([1], 'out', '99').tracks[1]?.out).toBe(s(20));
    expect(type([0, 2], 'in', '0.5').tracks.map(({ in: start }) => start)).toEqual([s(0.5), 0, s(0.5)]);
    expect(type([0, 1, 2], 'gain', '−1,5 dB').tracks.map(({ gainDb }) => gainDb)).toEqual([-1.5, -1.5, -1.5]);
    expect([fault('gain', '25'), fault('gain', '+24'), fault('gain', 'loud')]).toEqual([
      'Decibels from −48 to 24.',
      undefined,
      'Decibels from −48 to 24.',
    ]);
    expect(fault('out', '2 beats')).toBe('Seconds, 250 ms, 1:02.5 or MM:SS:FF.');
  });

  it('works on the hidden song as well', () => {
    const hidden = hideFirstTrack(album);
    expect(type([-1, 0], 'gain', '2', hidden).hidden?.gainDb).toBe(2);
    expect(type([-1, 0], 'gain', '2', hidden).tracks.map(({ gainDb }) => gainDb)).toEqual([2, 0]);
  });

  it('is written in the list of undo as it is kept', () => {
    expect([typedWords('gain', '-2'), typedWords('gap', ' 2 beats ')]).toEqual(['−2.0 dB', '2 beats']);
  });
});

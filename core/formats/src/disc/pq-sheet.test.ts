import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { album, discOf } from '@oiseau/album/testing';
import { formatMsf, secondsToTicks, ticks } from '@oiseau/audio/time';
import { flagsOf, pqSheet } from './pq-sheet.js';

const s = secondsToTicks;

describe('PQ sheet', () => {
  it('has marks, lengths and pauses as a player counts them', () => {
    const subject = {
      ...album(
        { out: s(30), isrc: 'zzois2600001', indexes: [s(10)] },
        { out: s(20), gapBefore: s(3), performer: 'Sea Pinks', copyPermitted: true },
        { out: s(40.01), gapBefore: ticks(0), preEmphasis: true },
      ),
      upc: '2012345678903',
      discNumber: 2,
      discTotal: 3,
    };
    const sheet = pqSheet(subject, discOf(subject));
    // Audio at 2–32, 35–55 and 55–95.01 s; 95.01 s are 7125.75 frames, so the lead-out is 01:35:01.
    expect(
      sheet.tracks.map(({ pause, pauseLength, start, length, indexes }) => [
        pause === null ? null : formatMsf(pause),
        ...[pauseLength, start, length, ...indexes].map(formatMsf),
      ]),
    ).toEqual([
      ['00:00:00', '00:02:00', '00:02:00', '00:30:00', '00:12:00'],
      ['00:32:00', '00:03:00', '00:35:00', '00:20:00'],
      [null, '00:00:00', '00:55:00', '00:40:01'],
    ]);
    expect([formatMsf(sheet.leadOut), formatMsf(sheet.playing)]).toEqual(['01:35:01', '01:33:01']);
    expect(sheet.upc).toBe('2012345678903');
    expect(sheet.disc && english(sheet.disc)).toBe('2 of 3');
    expect(sheet.tracks.map(({ isrc, performer }) => `${isrc} ${performer}`)).toEqual([
      'ZZ-OIS-26-00001 Marram Lamps',
      ' Sea Pinks',
      ' Marram Lamps',
    ]);
    expect(sheet.tracks.map((track) => english(flagsOf(track)))).toEqual(['', 'copy', 'pre-emphasis']);
  });

  it('says nothing of a disc that has no track', () => {
    const sheet = pqSheet(album(), discOf(album()));
    expect([sheet.tracks, sheet.playing, sheet.disc, sheet.upc]).toEqual([[], 0, null, '']);
  });
});

import { describe, expect, it } from 'vitest';
import type { Album, Track } from '../album/album.js';
import { layOutAlbum } from '../album/resolve.js';
import { album } from '../testing.js';
import { secondsToTicks, ticks } from '../time/ticks.js';
import { checkAlbum } from './check.js';
import type { CheckCode } from './finding.js';
import { wordFinding } from './words.js';

const s = secondsToTicks;
/** Every master of these tests lasts 60 s. */
const masters = new Map([['ab'.repeat(32), { rate: 44_100, length: 60 * 44_100 }]]);
const check = (subject: Album) => checkAlbum({ album: subject, masters, ...layOutAlbum(subject, masters) });
const codes = (subject: Album): CheckCode[] => check(subject).map(({ code }) => code);
const many = (count: number, change: Partial<Track> = {}): Album =>
  album(...Array.from({ length: count }, () => change));

describe('checks', () => {
  it('find nothing in an album that is right', () => {
    expect(
      codes({ ...album({ isrc: 'ZZ-OIS-26-00001' }, { isrc: 'ZZOIS2600002' }), upc: '2012345678903' }),
    ).toEqual([]);
  });

  it.each<[CheckCode, Album, Album]>([
    ['no-tracks', album(), album({})],
    ['too-many-tracks', many(100, { out: s(10) }), many(99, { out: s(10) })],
    ['region-outside-master', album({ out: s(60.001) }), album({ out: s(60) })],
    ['region-empty', album({ in: s(30), out: s(30) }), album({ in: s(30), out: s(40) })],
    [
      'fades-too-long',
      album({
        out: s(10),
        fadeIn: { length: s(6), shape: 'linear' },
        fadeOut: { length: s(4.001), shape: 'linear' },
      }),
      album({
        out: s(10),
        fadeIn: { length: s(6), shape: 'linear' },
        fadeOut: { length: s(4), shape: 'linear' },
      }),
    ],
    [
      'overlap-over-two',
      album({ out: s(10) }, { out: s(5), gapBefore: s(-4) }, { out: s(10), gapBefore: s(-1.5) }),
      album({ out: s(10) }, { out: s(5), gapBefore: s(-4) }, { out: s(10), gapBefore: s(-1) }),
    ],
    ['first-pause-short', album({ gapBefore: s(1.99) }), album({ gapBefore: s(2) })],
    // From mark to pause: 3.98 s is 298.5 frames; 4 s is 300.
    ['track-short', album({ out: s(3.98) }, {}), album({ out: s(4) }, {})],
    ['index-outside-track', album({ indexes: [s(20), s(10)] }), album({ indexes: [s(10), s(20)] })],
    // 77 tracks of 60 + 2 s end at 4774 s; 78 at 4836 s, past 79:59:74 = 4799.99 s.
    ['disc-too-long', many(78), many(77)],
    ['isrc-malformed', album({ isrc: 'ZZOIS26' }), album({ isrc: '' })],
    [
      'isrc-double',
      album({ isrc: 'ZZOIS2600001' }, { isrc: 'zz-ois-26-00001' }),
      album({ isrc: 'ZZOIS2600001' }, {}),
    ],
    ['upc-malformed', { ...album({}), upc: '2012345678904' }, { ...album({}), upc: '2012345678903' }],
    ['title-empty', album({ title: ' ' }), album({ title: 'Ebb' })],
    ['album-title-empty', { ...album({}), title: '' }, album({})],
  ])('%s is found where it is, and only there', (code, broken, right) => {
    expect(codes(broken)).toContain(code);
    expect(codes(right)).not.toContain(code);
    for (const finding of check(broken)) expect(wordFinding(finding)).toMatch(/^.{10,}\.$/s);
  });

  it('warn past 79:57 and forbid past 79:59:74', () => {
    const ending = (seconds: number): Album => ({ ...many(77), endPause: s(seconds - 77 * 62) });
    expect(check(ending(4797))).toEqual([]);
    expect(check(ending(4797.5))).toMatchObject([{ code: 'disc-too-long', severity: 'warning' }]);
    expect(check(ending(4800))).toMatchObject([{ code: 'disc-too-long', severity: 'error' }]);
  });

  it('put errors first', () => {
    const found = check({ ...album({ title: '', gapBefore: ticks(0) }), title: '' });
    expect(found.map(({ severity }) => severity)).toEqual(['error', 'warning', 'warning']);
  });
});
